import { TransientLanes } from "./lanes";
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
  picture: {
    over: "strokes",
    shows: "peaks",
    level: null,
    lifts: { attack: "attack", attackTime: "attackTime", sustain: "sustain" },
  },
  output: "output",
  main: ["attack", "sustain", "attackTime", "sustainTime", "output"],
  idle: ({ bands }) =>
    Object.keys(transientParams).filter(
      (name) =>
        (name.endsWith("3") && bands !== "3") ||
        (name.endsWith("2") && (bands === "1" || (name === "cross2" && bands === "2"))) ||
        (name === "cross1" && bands === "1"),
    ),
  lively: { attack: 6, sustain: -9, attack2: -5, sustain2: 7, attack3: 9, sustain3: -4 },
  create: () => new Transient() as unknown as Processor,
  lanes: (format) => new TransientLanes(format),
});
