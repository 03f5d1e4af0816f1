import { expect, test } from "@jest/globals";
import { processorType } from "../../core/processors";
import { envelopeTimesMs } from "../../core/shape/hitReductions";
import { newProcessor } from "../../core/song/create";
import { liftHandles } from "./liftHandles";

const type = processorType("transient");
const { picture } = type;
const lifts = picture?.over === "strokes" ? picture.lifts! : null!;
/** A stroke that falls by 0.2 dB a ms from -6 dBFS. */
const before = envelopeTimesMs.map((t) => (t < 0 ? -60 : -6 - 0.2 * t));
const state = newProcessor("m", "transient", true, { attack: 4, attackTime: 0.02, sustain: -3 });
const told: [Record<string, number>, boolean][] = [];
const [attack, tail] = liftHandles(
  lifts,
  { loudThird: { before, after: before } },
  state,
  type,
  (params, done) => told.push([params, done]),
) as [ReturnType<typeof liftHandles>[0], ReturnType<typeof liftHandles>[0]];

test("grips stand where the stroke will be: as much above it as attack and tail are lifted", () => {
  expect(attack.x).toBeCloseTo(20, 6);
  expect(attack.y).toBeCloseTo(-6 - 0.2 * 20 + 4, 0);
  expect(tail.y).toBeCloseTo(-6 - 0.2 * 120 - 3, 0);
});
test("dragged, they say lift and length in half dB and within what the parameter takes", () => {
  attack.drag(30, -6, true);
  expect(told.pop()).toEqual([{ attackTime: 0.03, attack: 6 }, true]);
  tail.drag(80, -30, false);
  expect(told.pop()).toEqual([{ sustain: 0 }, false]);
  attack.drag(-5, 40, false);
  expect(told.pop()![0]).toMatchObject({ attackTime: 0.001, attack: 24 });
});
