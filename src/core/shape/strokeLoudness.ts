import { designKWeighting } from "../measure/kWeighting";
import { cascadeOf, designButterworth, type Section } from "../signal/biquad";
import { powerToDb } from "../signal/level";
import type { Samples } from "../signal/samples";

/** Time from the onset that counts to a stroke's loudness, s. */
const strokeSeconds = 0.2;
/** Time in which the filters come to rest before a stroke, s: the lowest of them, two poles at 38 Hz, falls by 60 dB in 40 ms. */
const settleSeconds = 0.1;
/** Below this a small speaker gives nothing: 24 dB per octave (common practice, no source), Hz. */
const smallSpeakerFrom = 150;

/** Loudness of strokes as they are, and as a small speaker gives them. */
export interface StrokeLoudness {
  /** dB, K-weighted; `silenceDb` without strokes. */
  readonly whole: number;
  readonly small: number;
}

/** What is filtered of every stroke: what is heard of it, from `at` on, and before it what its filters still remember. */
function* stretchesOf(x: Samples, onsets: readonly number[], sampleRate: number) {
  const lead = Math.round(settleSeconds * sampleRate);
  const span = Math.round(strokeSeconds * sampleRate);
  for (const onset of onsets) {
    const start = Math.max(0, Math.round(onset));
    const end = Math.min(x.length, start + span);
    const from = Math.max(0, start - lead);
    const stretch = x.subarray(from, Math.max(from, end));
    yield { stretch, at: start - from, frames: Math.max(0, end - start) };
  }
}

/** Mean K-weighted power over the first 200 ms of every stroke, dB; `silenceDb` without strokes. Shape  as `strokeLoudness`. */
export function strokeLevel(x: Samples, onsets: readonly number[], sampleRate: number): number {
  const weighting = cascadeOf(designKWeighting(sampleRate));
  let power = 0;
  let n = 0;
  for (const { stretch, at, frames } of stretchesOf(x, onsets, sampleRate)) {
    const y = new Float64Array(stretch.length);
    weighting.reset();
    weighting.process(stretch, y, y.length);
    let sum = 0;
    for (let i = at; i < y.length; i++) sum += y[i]! * y[i]!;
    power += sum;
    n += frames;
  }
  return powerToDb(n > 0 ? power / n : 0);
}

/**
 * Mean K-weighted power over the first 200 ms of every stroke. Shape  onsets in frames.
 * Source  weighting: ITU-R BS.1770-5, annex 1. Strokes are shorter than its 400 ms blocks, so that it is no loudness in LUFS; differences are
 *         LU.
 */
export function strokeLoudness(x: Samples, onsets: readonly number[], sampleRate: number): StrokeLoudness {
  const filters = [
    ...designKWeighting(sampleRate),
    ...designButterworth("high", smallSpeakerFrom, 4, sampleRate),
  ];
  let whole = 0;
  let less = 0;
  let n = 0;
  for (const { stretch, at, frames } of stretchesOf(x, onsets, sampleRate)) {
    const power = powersOf(stretch, at, filters);
    whole += power.whole;
    less += power.small;
    n += frames;
  }
  const level = (power: number): number => powerToDb(n > 0 ? power / n : 0);
  return { whole: level(whole), small: level(less) };
}

/**
 * Energy from `at` on behind the first two of four sections, and behind all; the sections begin at rest.
 * All four in one loop: a section waits for its own last value alone, so that they run side by side in the processor.
 */
function powersOf(x: Float32Array, at: number, sections: readonly Section[]) {
  const [p, q, r, s] = sections as readonly [Section, Section, Section, Section];
  let p1 = 0,
    p2 = 0,
    q1 = 0,
    q2 = 0,
    r1 = 0,
    r2 = 0,
    s1 = 0,
    s2 = 0;
  let whole = 0;
  let small = 0;
  for (let i = 0; i < x.length; i++) {
    const v = x[i]!;
    const a = p.b0 * v + p1;
    p1 = p.b1 * v - p.a1 * a + p2;
    p2 = p.b2 * v - p.a2 * a;
    const b = q.b0 * a + q1;
    q1 = q.b1 * a - q.a1 * b + q2;
    q2 = q.b2 * a - q.a2 * b;
    const c = r.b0 * b + r1;
    r1 = r.b1 * b - r.a1 * c + r2;
    r2 = r.b2 * b - r.a2 * c;
    const d = s.b0 * c + s1;
    s1 = s.b1 * c - s.a1 * d + s2;
    s2 = s.b2 * c - s.a2 * d;
    if (i < at) continue;
    whole += b * b;
    small += d * d;
  }
  return { whole, small };
}
