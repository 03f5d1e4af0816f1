import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import type { Edit } from "../song/song";
import { noise } from "../testing/signals";
import { editedTime, readEdited, shiftAt } from "./timeline";

const frames = 4000;
const x = noise(frames, 5);
const read = (from: number, count: number, out: Float32Array, to: number) => {
  for (let i = 0; i < count; i++) out[to + i] = x[from + i] ?? 0;
};
const edited = (edits: Edit[], from: number, count: number) => {
  const out = new Float32Array(count);
  readEdited(edits, read, from, count, out);
  return out;
};
/** Edits as a plan makes them: ascending, fades inside their own stretch. */
const plans = fc
  .array(fc.record({ gap: fc.integer({ min: 150, max: 500 }), shift: fc.integer({ min: -60, max: 60 }), fade: fc.integer({ min: 1, max: 100 }) }), { maxLength: 6 })
  .map((list) => {
    let at = 0;
    return list.map(({ gap, shift, fade }): Edit => ({ at: (at += gap), shift, fade }));
  }); // prettier-ignore

describe("tightened time", () => {
  test("no edits: the recording bit for bit", () => {
    expect(edited([], 0, frames)).toEqual(x);
  });
  test("outside the fades every frame is a moved copy, bit for bit", () => {
    fc.assert(
      fc.property(plans, (edits) => {
        const y = edited(edits, 0, frames);
        for (let i = 0; i < frames; i++) {
          if (edits.some((e) => i >= e.at - e.fade && i < e.at)) continue;
          if (y[i] !== (x[i - shiftAt(edits, i)] ?? 0)) return false;
        }
        return true;
      }),
      { numRuns: 60 },
    );
  });
  test("any split of the reading gives the same", () => {
    fc.assert(
      fc.property(plans, fc.integer({ min: 1, max: 700 }), (edits, split) => {
        const whole = edited(edits, 0, frames);
        for (let at = 0; at < frames; at += split) {
          const part = edited(edits, at, Math.min(split, frames - at));
          if (part.some((v, i) => v !== whole[at + i])) return false;
        }
        return true;
      }),
      { numRuns: 40 },
    );
  });
  test("a recorded instant is heard where its frame is read", () => {
    const edits: Edit[] = [{ at: 1000, shift: 40, fade: 50 }, { at: 2000, shift: -30, fade: 50 }]; // prettier-ignore
    expect(editedTime(edits, 500 / 48000, 48000)).toBeCloseTo(500 / 48000, 9);
    expect(editedTime(edits, 1500 / 48000, 48000) * 48000).toBeCloseTo(1540, 6);
    expect(editedTime(edits, 2500 / 48000, 48000) * 48000).toBeCloseTo(2470, 6);
  });
});
