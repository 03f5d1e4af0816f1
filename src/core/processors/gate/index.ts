import { Gate, gateParams } from "./gate";
import { declare, type Processor } from "../../processor";
import { GateLanes } from "./lanes";

export const gate = declare({
  type: "gate",
  label: "Gate",
  help: "Turns the mic down between the strokes of its drum.",
  params: gateParams,
  step: "clean",
  place: "free",
  purpose: "clean",
  listens: true,
  meters: true,
  picture: { over: "strokes", shows: "peaks", level: null },
  main: ["opens", "threshold", "range", "hold", "release"],
  lively: {},
  create: () => new Gate() as unknown as Processor,
  lanes: (format) => new GateLanes(format),
});
