import { declare, type Processor } from "../../processor";
import { Reducer, reducerParams } from "./reducer";

export const reducer = declare({
  type: "reducer",
  label: "Bit and rate reducer",
  help: "Rounds levels to few steps and takes few values a second, as early samplers did.",
  params: reducerParams,
  step: "shape",
  place: "free",
  purpose: "colour",
  picture: { over: "strokes", shows: "peaks", level: null },
  output: "output",
  main: ["bits", "rate", "dither", "tone", "mix"],
  lively: { bits: 23, rate: 11000, tone: 6000, mix: 80 },
  transparent: { bits: 24 },
  create: () => new Reducer() as unknown as Processor,
});
