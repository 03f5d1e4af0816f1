import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import type { Edit } from "../song/song";
import { noise } from "../testing/signals";
import { editedTime, readEdited, recordedTime } from "./timeline";

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
  .array(
    fc.record({
      gap: fc.integer({ min: 150, max: 500 }),
      shift: fc.integer({ min: -60, max: 60 }),
      fade: fc.integer({ min: 1, max: 100 }),
    }),
    { maxLength: 6 },
  )
  .map((list) => {
    let at = 0;
    return list.map(({ gap, shift, fade }): Edit => ({
      at: (at += gap),
      shift,
      fade,
      likeness: 1,
      jumpDb: null,
    }));
  });

/** Shift that holds at a frame of the song. */
const shiftAt = (edits: readonly Edit[], frame: number): number =>
  edits.findLast((e) => e.at <= frame)?.shift ?? 0;

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
  test("where an instant was recorded is found back from where it is heard", () => {
    fc.assert(
      fc.property(plans, fc.integer({ min: 0, max: 3900 }), (edits, frame) => {
        const heard = editedTime(edits, frame / 48000, 48000);
        // What a cut leaves out, or brings twice, has no single place.
        const lost = edits.some(
          (e, i) => Math.abs(frame + e.shift - e.at) <= Math.abs(e.shift - (edits[i - 1]?.shift ?? 0)) + 1,
        );
        return lost || Math.abs(recordedTime(edits, heard, 48000) * 48000 - frame) < 1e-6;
      }),
    );
  });
  test("a recorded instant is heard where its frame is read", () => {
    const edits: Edit[] = [
      { at: 1000, shift: 40, fade: 50, likeness: 1, jumpDb: null },
      { at: 2000, shift: -30, fade: 50, likeness: 1, jumpDb: null },
    ];
    expect(editedTime(edits, 500 / 48000, 48000)).toBeCloseTo(500 / 48000, 9);
    expect(editedTime(edits, 1500 / 48000, 48000) * 48000).toBeCloseTo(1540, 6);
    expect(editedTime(edits, 2500 / 48000, 48000) * 48000).toBeCloseTo(2470, 6);
  });
});
