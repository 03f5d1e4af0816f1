import { designKWeighting } from "./kWeighting";
import { stretchSums } from "./stretchSums";
import { readAhead, type Samples } from "../signal/samples";

export interface Loudness {
  /** LUFS; -Infinity for silence or less than 400 ms. */
  integrated: number;
  momentaryMax: number;
  shortTermMax: number;
  /** LU. */
  range: number;
}

const lufs = (power: number): number => (power > 0 ? -0.691 + 10 * Math.log10(power) : -Infinity);

/** K-weighted power of every 100 ms, channels summed with weight 1 (left and right of BS.1770). */
function stepPowers(channels: readonly Samples[], sampleRate: number): Float64Array {
  const step = Math.round(sampleRate / 10);
  const frames = channels[0]?.length ?? 0;
  const powers = new Float64Array(Math.floor(frames / step));
  const sums = stretchSums(step);
  for (const x of channels.map(readAhead)) {
    sums.weigh(designKWeighting(sampleRate));
    for (let s = 0; s < powers.length; s++)
      powers[s]! += sums.weighted(x.subarray(s * step, (s + 1) * step)) / step;
  }
  return powers;
}

function sliding(powers: Float64Array, length: number): number[] {
  const out: number[] = [];
  for (let s = 0; s + length <= powers.length; s++) {
    let sum = 0;
    for (let k = 0; k < length; k++) sum += powers[s + k]!;
    out.push(sum / length);
  }
  return out;
}

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** Mean of what lies above -70 LUFS and above `relative` LU under the mean of that. */
function gated(powers: readonly number[], relative: number): number[] {
  const audible = powers.filter((p) => lufs(p) > -70);
  if (audible.length === 0) return [];
  const limit = lufs(mean(audible)) + relative;
  return audible.filter((p) => lufs(p) > limit);
}

/**
 * Programme loudness of one or two channels.
 * Source  ITU-R BS.1770-5 (400 ms blocks, 75 % overlap, gates -70 LUFS and -10 LU); EBU Tech 3341 (momentary,
 *         short-term); EBU Tech 3342 (range: gate -20 LU, 10th to 95th percentile of 3 s blocks).
 */
export function measureLoudness(channels: readonly Samples[], sampleRate: number): Loudness {
  const powers = stepPowers(channels, sampleRate);
  const momentary = sliding(powers, 4);
  const shortTerm = sliding(powers, 30);
  const kept = gated(momentary, -10);
  const spread = gated(shortTerm, -20).sort((a, b) => a - b);
  const at = (q: number) => lufs(spread[Math.round(q * (spread.length - 1))]!);
  return {
    integrated: kept.length > 0 ? lufs(mean(kept)) : -Infinity,
    momentaryMax: lufs(momentary.reduce((a, b) => Math.max(a, b), 0)),
    shortTermMax: lufs(shortTerm.reduce((a, b) => Math.max(a, b), 0)),
    range: spread.length > 1 ? at(0.95) - at(0.1) : 0,
  };
}
