import { declare, type Processor } from "../../processor";
import { Expander, expanderParams } from "./expander";

export const expander = declare({
  type: "expander",
  label: "Expander",
  help: "Turns down what lies under a threshold by a ratio: a gate that closes gently.",
  params: expanderParams,
  step: "clean",
  place: "free",
  purpose: "clean",
  listens: true,
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: "threshold" },
  main: ["threshold", "ratio", "range", "attack", "hold", "release"],
  lively: { threshold: -6, ratio: 4 },
  transparent: { ratio: 1 },
  create: () => new Expander() as unknown as Processor,
});
