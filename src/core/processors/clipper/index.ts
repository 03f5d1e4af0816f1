import { ClipperLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { Clipper, clipperParams } from "./clipper";

export const clipper = declare({
  type: "clipper",
  label: "Clipper",
  help: "Cuts peaks at a ceiling and leaves everything under it untouched; four times oversampled.",
  params: clipperParams,
  step: "shape",
  place: "free",
  purpose: "dynamics",
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: "ceiling" },
  output: "output",
  main: ["ceiling", "input", "knee", "mix", "output"],
  lively: { input: 12, mix: 70 },
  create: () => new Clipper() as unknown as Processor,
  lanes: (format) => new ClipperLanes(format),
});
