import { Reverb, reverbParams } from "./reverb";
import { declare, type Processor } from "../../processor";

export const reverb = declare({
  type: "reverb",
  label: "Reverb",
  help: "A room, chamber, plate or hall around the kit; fully wet on a bus of its own.",
  params: reverbParams,
  step: "blend",
  place: "free",
  purpose: "space",
  widens: true,
  transparent: { mix: 0 },
  main: ["kind", "decay", "size", "predelay", "damping"],
  lively: { kind: "hall", modulation: 40 },
  create: () => new Reverb() as Processor,
});
