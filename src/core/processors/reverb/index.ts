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
  listens: true,
  takes: { roomDistance: "distance" },
  transparent: { mix: 0 },
  idle: ({ early, tailGate }) => [
    ...(early === reverbParams.early.min ? ["roomWidth", "roomDepth", "roomHeight", "distance"] : []),
    ...(tailGate === "off" ? ["tailThreshold", "tailHold", "tailRelease"] : []),
  ],
  main: ["kind", "decay", "size", "predelay", "damping"],
  lively: { kind: "hall", modulation: 40, early: -6, width: 130, lowDecay: 160, tailGate: "level" },
  create: () => new Reverb() as Processor,
});
