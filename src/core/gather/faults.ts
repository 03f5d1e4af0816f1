import type { Faults } from "../facts/faults";
import type { Piece } from "../song/song";
import { stretchSums } from "../measure/stretchSums";
import { gainToDb, quantile } from "../signal/level";
import { readAhead, type Samples } from "../signal/samples";

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

/** What one walk along a channel tells. */
interface Walk {
  readonly mean: number;
  /** RMS of the quietest twentieth of windows of 50 ms, dBFS. */
  readonly quietDb: number;
  /** Frames of those windows, and how far each reaches to either side. */
  readonly window: number;
  readonly up: readonly number[];
  readonly down: readonly number[];
}

function walk(x: Samples, sampleRate: number): Walk {
  const window = Math.round(0.05 * sampleRate);
  const levels: number[] = [];
  const up: number[] = [];
  const down: number[] = [];
  let all = 0;
  const sums = stretchSums(window);
  for (let at = 0; at < x.length; at += window) {
    const piece = x.subarray(at, Math.min(x.length, at + window));
    const { sum, square, highest, lowest } = sums.walk(piece);
    all += sum;
    up.push(highest);
    down.push(-lowest);
    if (piece.length === window) levels.push(Math.sqrt(Math.max(0, square / window - (sum / window) ** 2))); // an offset is no noise
  }
  const quietDb = levels.length > 0 ? gainToDb(quantile(levels, 0.05)) : -Infinity;
  return { mean: x.length > 0 ? all / x.length : 0, quietDb, window, up, down };
}

/**
 * Looks for cut tops, noise and a constant offset.
 * Shape   one file, all channels. Sample rate Hz.
 */
export function findFaults(channels: readonly Samples[], sampleRate: number): Faults {
  const times: number[] = [];
  let dc = 0;
  let noiseDb = -Infinity;
  for (const x of channels.map(readAhead)) {
    const { mean, quietDb, window, up, down } = walk(x, sampleRate);
    const cuts = [...cutTops(x, up, 1, window), ...cutTops(x, down, -1, window)].map((i) => i / sampleRate);
    // One long top at low frequency is a wave; a cut recording is cut again and again.
    if (cuts.length >= 3) times.push(...cuts);
    if (Math.abs(mean) > Math.abs(dc)) dc = mean;
    noiseDb = Math.max(noiseDb, quietDb);
  }
  times.sort((a, b) => a - b);
  const places = times.filter((t, i) => i === 0 || t - times[i - 1]! > apart);
  return { clips: { count: places.length, times: places.slice(0, timesKept) }, noiseDb, dc };
}

/** Frames at which the top on one side is cut flat; `reach`: how far every window reaches to that side. */
function cutTops(x: Samples, reach: readonly number[], sign: 1 | -1, window: number): number[] {
  const extreme = reach.reduce((most, r) => Math.max(most, r), 0);
  if (extreme < 1e-3) return [];
  const found: number[] = [];
  const limit = extreme * (1 - flatShare);
  let top = 0; // frames of the top that goes on
  const end = (behind: number): void => {
    if (top >= flatFrames) found.push(behind - top);
    top = 0;
  };
  reach.forEach((far, w) => {
    const from = w * window;
    if (far < limit) return end(from);
    const piece = x.subarray(from, Math.min(x.length, from + window));
    for (let i = 0; i < piece.length; i++)
      if (sign * piece[i]! >= limit) top++;
      else if (top > 0) end(from + i);
  });
  end(x.length);
  return found;
}

/** True where what sounds all the time is music, and no noise of a mic. */
const plays = (piece: Piece): boolean => piece === "context" || piece === "loop";

/** Faults of a file of a piece in words, each with where; empty: nothing worth naming. */
export function describeFaults(faults: Faults, peakDbfs: number, piece: Piece): string[] {
  const { clips, noiseDb, dc } = faults;
  const words: string[] = [];
  if (clips.count > 0)
    words.push(
      `clipped ${clips.count} time${clips.count > 1 ? "s" : ""}, first at ${clips.times
        .slice(0, 3)
        .map((t) => `${t.toFixed(2)} s`)
        .join(", ")}`,
    );
  if (!plays(piece) && noiseDb > noisyAbove && noiseDb > peakDbfs - noisyBelowPeak)
    words.push(`noise of ${noiseDb.toFixed(0).replace("-", "−")} dBFS between the strokes`);
  if (Math.abs(dc) > dcWorth) words.push(`constant offset of ${(100 * dc).toFixed(1)} %`);
  return words;
}
