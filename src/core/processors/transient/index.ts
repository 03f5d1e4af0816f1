import { declare, type Processor } from "../../processor";
import { Transient, transientParams } from "./transient";

export const transient = declare({
  type: "transient",
  label: "Attack and sustain",
  help: "Lifts or lowers the attack and the tail of every stroke, soft ones as much as loud ones.",
  params: transientParams,
  step: "shape",
  place: "free",
  purpose: "dynamics",
  picture: { over: "strokes", shows: "peaks", level: null },
  output: "output",
  main: ["attack", "sustain", "attackTime", "sustainTime", "output"],
  lively: { attack: 6, sustain: -9 },
  create: () => new Transient() as unknown as Processor,
});
