import { gainToDb, quantile } from "../signal/level";

/** What is wrong with a recording, as far as the sound tells. */
export interface Faults {
  /** Places where the top of the wave is cut flat: how many, and where the first lie, s. */
  readonly clips: { readonly count: number; readonly times: readonly number[] };
  /** Level of the quietest moments, dBFS RMS; a mic in a room lies well below. */
  readonly noiseDb: number;
  /** Mean of all samples, full scale 1. */
  readonly dc: number;
}

/** Frames of the same extreme value in a row that are a cut top; waves of instruments touch theirs once. */
const flatFrames = 5;
/** How near to the extreme a sample must lie, as a share of it: a few steps of 16 bits. */
const flatShare = 1e-4;
/** Cut tops closer than this are one place, s. */
const apart = 0.05;
const timesKept = 8;
/** Noise that is worth naming: above this, and less than this far below the peak, dB. */
const noisyAbove = -58;
const noisyBelowPeak = 42;
/** Offset that is worth naming, full scale 1. */
const dcWorth = 0.003;

/**
 * Looks for cut tops, noise and a constant offset.
 * Shape   one file, all channels. Sample rate Hz.
 */
export function findFaults(channels: readonly Float32Array[], sampleRate: number): Faults {
  const times: number[] = [];
  let dc = 0;
  let noiseDb = -Infinity;
  for (const x of channels) {
    times.push(...cutTops(x, sampleRate));
    let sum = 0;
    for (let i = 0; i < x.length; i++) sum += x[i]!;
    const mean = x.length > 0 ? sum / x.length : 0;
    if (Math.abs(mean) > Math.abs(dc)) dc = mean;
    noiseDb = Math.max(noiseDb, quietLevel(x, sampleRate));
  }
  times.sort((a, b) => a - b);
  const places = times.filter((t, i) => i === 0 || t - times[i - 1]! > apart);
  return { clips: { count: places.length, times: places.slice(0, timesKept) }, noiseDb, dc };
}

function cutTops(x: Float32Array, sampleRate: number): number[] {
  const found: number[] = [];
  for (const sign of [1, -1]) {
    let extreme = 0;
    for (let i = 0; i < x.length; i++) extreme = Math.max(extreme, sign * x[i]!);
    if (extreme < 1e-3) continue;
    const limit = extreme * (1 - flatShare);
    let run = 0;
    for (let i = 0; i <= x.length; i++) {
      if (i < x.length && sign * x[i]! >= limit) run++;
      else {
        if (run >= flatFrames) found.push((i - run) / sampleRate);
        run = 0;
      }
    }
  }
  // One long top at low frequency is a wave; a cut recording is cut again and again.
  return found.length >= 3 ? found : [];
}

/** RMS of the quietest twentieth of windows of 50 ms, dBFS. */
function quietLevel(x: Float32Array, sampleRate: number): number {
  const window = Math.round(0.05 * sampleRate);
  const levels: number[] = [];
  for (let at = 0; at + window <= x.length; at += window) {
    let sum = 0;
    let square = 0;
    for (let i = at; i < at + window; i++) {
      sum += x[i]!;
      square += x[i]! * x[i]!;
    }
    levels.push(Math.sqrt(Math.max(0, square / window - (sum / window) ** 2))); // an offset is no noise
  }
  return levels.length > 0 ? gainToDb(quantile(levels, 0.05)) : -Infinity;
}

/** Faults in words, each with where; empty: nothing worth naming. */
export function describeFaults(faults: Faults, peakDbfs: number): string[] {
  const { clips, noiseDb, dc } = faults;
  const words: string[] = [];
  if (clips.count > 0)
    words.push(`clipped ${clips.count} time${clips.count > 1 ? "s" : ""}, first at ${clips.times.slice(0, 3).map((t) => `${t.toFixed(2)} s`).join(", ")}`); // prettier-ignore
  if (noiseDb > noisyAbove && noiseDb > peakDbfs - noisyBelowPeak) words.push(`noise of ${noiseDb.toFixed(0).replace("-", "−")} dBFS between the strokes`); // prettier-ignore
  if (Math.abs(dc) > dcWorth) words.push(`constant offset of ${(100 * dc).toFixed(1)} %`);
  return words;
}
