import { Saturation, saturationParams } from "./saturation";
import { renderedOversampling } from "../oversampling";
import { declare, type Processor } from "../../processor";
import { SaturationLanes } from "./lanes";

export const saturation = declare({
  type: "saturation",
  label: "Saturation",
  help: "Bends peaks round and adds harmonics; oversampled.",
  params: saturationParams,
  step: "shape",
  place: "free",
  purpose: "colour",
  picture: { over: "strokes", shows: "peaks", level: null },
  output: "output",
  main: ["character", "drive", "even", "mix", "output"],
  lively: {},
  rendered: renderedOversampling,
  create: () => new Saturation() as unknown as Processor,
  lanes: (format) => new SaturationLanes(format),
});
