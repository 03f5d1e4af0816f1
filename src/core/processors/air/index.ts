import { AirLanes } from "./lanes";
import { declare, type Processor } from "../../processor";
import { Air, airParams } from "./air";

export const air = declare({
  type: "air",
  label: "Air",
  help: "Adds harmonics above a frequency, more of them where it is loud.",
  params: airParams,
  step: "shape",
  place: "free",
  purpose: "colour",
  picture: { over: "strokes", shows: "peaks", level: null },
  main: ["frequency", "amount", "drive", "even"],
  lively: {},
  create: () => new Air() as unknown as Processor,
  lanes: (format) => new AirLanes(format),
});
