import { describe, expect, test } from "@jest/globals";
import { isChoice, type AnyValues, type ParamTable } from "../params";
import type { Planar } from "../processor";
import { randomSource } from "../signal/random";
import { noise } from "../testing/signals";
import { processorTypes } from ".";

const rate = 48000;
const maxFrames = 512;
const frames = 12000;

const inputs: [string, (i: number) => number][] = [
  ["silence", () => 0],
  ["denormals", (i) => (i % 2 ? 1e-310 : -1e-40)],
  ["a full-scale square", (i) => (i % 96 < 48 ? 1 : -1)],
  ["a constant", () => 1],
  ["single frames at four times full scale", (i) => (i % 700 === 0 ? 4 : 0)],
];

/** Values from end to end of every range, another one of each at every call. */
function anyValues(params: ParamTable, random: () => number): AnyValues {
  return Object.fromEntries(
    Object.entries(params).map(([name, spec]) => {
      if (isChoice(spec)) return [name, spec.choices[Math.floor(random() * spec.choices.length)]!];
      const r = random();
      if (r < 0.3) return [name, spec.min];
      if (r > 0.7) return [name, spec.max];
      return [name, spec.min + ((r - 0.3) / 0.4) * (spec.max - spec.min)];
    }),
  );
}

describe.each(processorTypes.map((t) => [t.type, t] as const))("%s under abuse", (_, type) => {
  test.each(inputs)(
    "values thrown from end to end at every block over %s: every sample is a number",
    (name, signal) => {
      for (const channels of [1, 2]) {
        const random = randomSource(channels + name.length);
        const p = type.create();
        p.prepare({ sampleRate: rate, channels, maxFrames });
        const hits = Float64Array.from([500, 501, 3000.5, 9000]);
        const wide = type.widens ? 2 : channels;
        const some = noise(frames, channels, 1e-3);
        for (let at = 0, first = true; at < frames; first = false) {
          p.set(anyValues(type.params, random));
          if (first) p.reset();
          const n = Math.min(frames - at, random() < 0.2 ? 1 : 1 + Math.floor(random() * maxFrames));
          const input: Planar = Array.from({ length: channels }, () =>
            Float32Array.from(
              { length: n },
              (__, i) => signal(at + i) + (name === "a constant" ? some[at + i]! : 0),
            ),
          );
          const output = Array.from({ length: wide }, () => new Float32Array(n));
          const key = type.listens && random() < 0.5 ? input : null;
          p.process(input, output, n, { position: at, key, hits, beats: hits });
          for (const y of output)
            for (const v of y) if (!Number.isFinite(v)) throw new Error(`${v} at ${at}`);
          at += n;
        }
        expect(Number.isFinite(p.reductionDb ?? 0)).toBe(true);
      }
    },
  );
});
