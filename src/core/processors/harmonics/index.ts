import { renderedOversampling } from "../oversampling";
import { HarmonicsLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { Harmonics, harmonicsParams } from "./harmonics";

export const harmonics = declare({
  type: "harmonics",
  label: "Harmonics of a band",
  help: "Adds odd and even harmonics, each by its own amount, of what lies between two frequencies; the rest stays as it is.",
  params: harmonicsParams,
  step: "shape",
  place: "free",
  purpose: "colour",
  picture: { over: "strokes", shows: "peaks", level: null },
  output: "output",
  main: ["character", "drive", "odd", "even", "low", "high", "level"],
  idle: ({ follows }) => (follows === "nothing" ? ["followDb", "followTime"] : []),
  lively: { even: 60, toneBefore: 5, low: 200, high: 6000, tone: 9000 },
  rendered: renderedOversampling,
  transparent: { odd: 0 },
  create: () => new Harmonics() as unknown as Processor,
  lanes: (format) => new HarmonicsLanes(format),
});
