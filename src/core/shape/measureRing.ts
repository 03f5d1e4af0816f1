import type { RingDecay } from "../facts/ringDecay";
import { decayTime } from "../measure/decay";
import { ringTamer } from "../processors/ringTamer";
import { ringTamerParams } from "../processors/ringTamer/ringTamer";
import { designBandPass, filtered } from "../signal/biquad";
import { processedOnce } from "./processedOnce";
import type { Samples } from "../signal/samples";

/** Strokes that must be alone for a while, and how long, s: the next one would cut the ring short. */
const fewest = 4;
const alone = 0.5;
const most = 24;
/** Before the onset and behind it that is looked at, s. */
const [before, after] = [0.01, 1.5];
/** The burst of the stroke itself is over, s (common practice, no source). */
const burst = 0.03;
const stepSeconds = 0.005;
/** Sharpness of the filter that a ring is read through. */
const readQ = 12;
/** A ring is asked to die in a third of its time, but not faster than a drum sounds natural with, s (common practice, no source). */
const share = 1 / 3;
const shortest = 0.1;
/** What takes longer is no drum, s. */
const longest = ringTamerParams.found.max;

/** How far a decay falls from its first to its last tenth, dB: less than the T20 that is read, and it sinks into something else. */
const leastFall = 20;
function fallDb(energies: readonly number[]): number {
  const tenth = Math.max(1, Math.floor(energies.length / 10));
  const sum = (values: readonly number[]) => values.reduce((s, v) => s + v, 1e-30);
  return 10 * Math.log10(sum(energies.slice(0, tenth)) / sum(energies.slice(-tenth)));
}

/** Mean energy per step around a frequency over strokes of one length, from behind their burst on; `times`: how often it is filtered. */
function energies(
  strokes: readonly Float32Array[],
  frequency: number,
  sampleRate: number,
  times = 1,
): number[] {
  const step = Math.round(stepSeconds * sampleRate);
  const from = Math.round((before + burst) * sampleRate);
  const sums = new Array<number>(Math.max(0, Math.floor((strokes[0]!.length - from) / step))).fill(0);
  for (const x of strokes) {
    const y = filtered(x, new Array(times).fill(designBandPass(frequency, readQ, sampleRate)));
    // Every stroke counts alike, loud or soft.
    const whole = x.reduce((s, v) => s + v * v, 1e-12);
    for (let k = 0; k < sums.length; k++)
      for (let i = from + k * step; i < from + (k + 1) * step; i++) sums[k]! += (y[i]! * y[i]!) / whole;
  }
  return sums;
}

/** Strokes that no other of the drum follows closely, cut out, all as long as the shortest of them. Shape  strokes in s, ascending. */
function aloneStrokes(x: Samples, strokes: readonly number[], sampleRate: number): Float32Array[] {
  const spans = strokes.flatMap((t, i) => {
    const end = Math.min(t + after, (strokes[i + 1] ?? Infinity) - 0.02, x.length / sampleRate);
    return end - t >= alone && t >= before ? [{ t, end }] : [];
  });
  const kept = spans.sort((a, b) => b.end - b.t - (a.end - a.t)).slice(0, most);
  // A frame less than they have, as each begins at a whole one.
  const frames = Math.min(...kept.map(({ t, end }) => Math.floor((end - t + before) * sampleRate) - 1));
  return kept.map(({ t }) => {
    const from = Math.round((t - before) * sampleRate);
    return x.subarray(from, from + frames);
  });
}

/** T60 of what rings at a frequency, s, over strokes that are cut out; null: too few, or it sinks into something else. */
function t60Of(
  cut: readonly Float32Array[],
  frequency: number,
  sampleRate: number,
  times = 1,
): number | null {
  if (cut.length < fewest) return null;
  const falling = energies(cut, frequency, sampleRate, times);
  return fallDb(falling) < leastFall ? null : decayTime(falling, stepSeconds);
}

/** T60 of a ring over the strokes of a drum, s; null as for `measureRing`. Shape  as there. */
export const ringT60 = (
  x: Samples,
  strokes: readonly number[],
  frequency: number,
  sampleRate: number,
): number | null => t60Of(aloneStrokes(x, strokes, sampleRate), frequency, sampleRate);

/** No partial of a drum rings longer: what seems to is held up by something else, s (common practice, no source). */
const longestTone = 2.5;
/** The same of a tone beside others, which are kept out by a second filter; null also where it rings too long to be a drum's. */
export const toneT60 = (
  x: Samples,
  strokes: readonly number[],
  frequency: number,
  sampleRate: number,
): number | null => {
  const t60 = t60Of(aloneStrokes(x, strokes, sampleRate), frequency, sampleRate, 2);
  return t60 !== null && t60 <= longestTone ? t60 : null;
};

/**
 * How long a ring lasts in a mic, by strokes that no other of the drum follows within half a second; null where there are too few of
 * them, or where it sinks into something else before it has fallen by 25 dB.
 * Shape   x from the song's first frame on; strokes in s, ascending; frequency in Hz.
 */
export function measureRing(
  x: Samples,
  strokes: readonly number[],
  frequency: number,
  sampleRate: number,
): RingDecay | null {
  const cut = aloneStrokes(x, strokes, sampleRate);
  const found = t60Of(cut, frequency, sampleRate);
  if (found === null || found > longest) return null;
  const wanted = Math.max(shortest, Math.round(100 * share * found) / 100);
  const values = { frequency, found, wanted };
  const after60 = decayTime(
    energies(
      cut.map((s) => processedOnce(ringTamer, values, s, sampleRate)),
      frequency,
      sampleRate,
    ),
    stepSeconds,
  );
  return after60 === null ? null : { frequency, found, tamed: after60, wanted, strokes: cut.length };
}
