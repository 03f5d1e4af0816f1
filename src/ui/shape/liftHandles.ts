import type { NumberParam } from "../../core/params";
import type { PictureOf, ProcessorType } from "../../core/processor";
import { envelopeTimesMs, type StrokeEffect } from "../../core/shape/hitReductions";
import type { ProcessorState } from "../../core/song/song";
import type { Handle } from "../shared/Plot";

/** Where the lift of a tail is held, ms. */
const tailAt = 120;

/** Grips on the envelope of the loudest strokes: up and down lifts attack or tail, to the side says how long an attack is. */
export function liftHandles(
  lifts: NonNullable<Extract<PictureOf, { over: "strokes" }>["lifts"]>,
  { loudThird }: Pick<StrokeEffect, "loudThird">,
  { params }: ProcessorState,
  { params: specs }: ProcessorType,
  set: (params: Record<string, number>, done: boolean) => void,
): Handle[] {
  const levelAt = (ms: number): number => {
    const i = envelopeTimesMs.findIndex((t) => t >= ms);
    return loudThird.before[i < 0 ? loudThird.before.length - 1 : i]!;
  };
  const within = (name: string, value: number): number => {
    const { min, max } = specs[name] as NumberParam;
    return Math.min(max, Math.max(min, value));
  };
  const attackMs = 1000 * (params[lifts.attackTime] as number);
  const lifted = (name: string, ms: number, y: number): number =>
    within(name, Math.round(2 * (y - levelAt(ms))) / 2);
  return [
    {
      id: "attack",
      x: attackMs,
      y: levelAt(attackMs) + (params[lifts.attack] as number),
      label: "A",
      name: "Attack",
      drag: (x, y, done) => {
        const time = within(lifts.attackTime, Number((Math.max(1, x) / 1000).toPrecision(2)));
        set({ [lifts.attackTime]: time, [lifts.attack]: lifted(lifts.attack, 1000 * time, y) }, done);
      },
    },
    {
      id: "sustain",
      x: tailAt,
      y: levelAt(tailAt) + (params[lifts.sustain] as number),
      label: "T",
      name: "Tail",
      drag: (_, y, done) => set({ [lifts.sustain]: lifted(lifts.sustain, tailAt, y) }, done),
    },
  ];
}
