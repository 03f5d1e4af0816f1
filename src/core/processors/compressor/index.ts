import { Compressor, compressorParams } from "./compressor";
import { declare, type Processor } from "../../processor";
import { CompressorLanes } from "./lanes";

export const compressor = declare({
  type: "compressor",
  label: "Compressor",
  help: "Turns loud moments down by a ratio.",
  params: compressorParams,
  step: "shape",
  place: "free",
  purpose: "dynamics",
  listens: true,
  meters: true,
  picture: { over: "strokes", shows: "reductions", level: "threshold", usual: [3, 8] },
  output: "makeup",
  main: ["threshold", "ratio", "attack", "release", "makeup", "mix"],
  lively: {},
  create: () => new Compressor() as unknown as Processor,
  lanes: (format) => new CompressorLanes(format),
});
