import { declare, type Processor } from "../../processor";
import { Chopper, chopperParams } from "./chopper";

export const chopper = declare({
  type: "chopper",
  label: "Chopper",
  help: "Chops a sound by a pattern tied to the song's beats, such as a wash of reverb or cymbals.",
  params: chopperParams,
  step: "blend",
  place: "free",
  purpose: "space",
  main: ["perBeat", "steps", "depth", "curve", "swing", "smooth", "step1", "step2", "step3", "step4"],
  idle: ({ steps }) =>
    Object.keys(chopperParams).filter((name) => Number(/^step(\d+)$/.exec(name)?.[1] ?? 0) > Number(steps)),
  lively: { perBeat: "3", steps: 5, swing: 20, movement: 50 },
  transparent: { depth: 0 },
  create: () => new Chopper() as unknown as Processor,
});
