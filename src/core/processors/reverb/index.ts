import { Reverb, reverbParams } from "./reverb";
import { declare, type Processor } from "../../processor";

export const reverb = declare({
  type: "reverb",
  label: "Room",
  help: "A room around the kit; fully wet on a bus of its own.",
  params: reverbParams,
  step: "blend",
  place: "free",
  purpose: "space",
  widens: true,
  transparent: { mix: 0 },
  main: ["decay", "size", "predelay", "damping"],
  lively: {},
  create: () => new Reverb() as Processor,
});
