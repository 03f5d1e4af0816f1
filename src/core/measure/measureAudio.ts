import { gainToDb, peakOf, powerOf, powerToDb } from "../signal/level";
import { measureLoudness, type Loudness } from "./loudness";
import { truePeak } from "./truePeak";

export interface Measurement extends Loudness {
  truePeakDb: number;
  samplePeakDb: number;
  rmsDb: number;
  crestDb: number;
  /** -1..1 between left and right; 1 for one channel. */
  correlation: number;
  /** Mean, linear. */
  dc: number;
  /** Frames in runs of three or more at full scale. */
  clippedSamples: number;
}

/** Correlation coefficient of two channels over all frames, -1..1; 0 when one is silent. */
export function correlation(a: Float32Array, b: Float32Array): number {
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < a.length; i++) {
    ab += a[i]! * b[i]!;
    aa += a[i]! * a[i]!;
    bb += b[i]! * b[i]!;
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}

function countClipped(x: Float32Array): number {
  let count = 0;
  let run = 0;
  for (let i = 0; i <= x.length; i++) {
    if (i < x.length && Math.abs(x[i]!) >= 0.99997) run++;
    else {
      if (run >= 3) count += run;
      run = 0;
    }
  }
  return count;
}

/** Everything `jubo measure` says about one or two channels. */
export function measureAudio(channels: readonly Float32Array[], sampleRate: number): Measurement {
  const n = channels.length;
  const power = channels.reduce((sum, x) => sum + powerOf(x), 0) / n;
  const peak = Math.max(...channels.map((x) => peakOf(x)));
  let dc = 0;
  for (const x of channels) {
    let sum = 0;
    for (let i = 0; i < x.length; i++) sum += x[i]!;
    if (Math.abs(sum / x.length) > Math.abs(dc)) dc = sum / x.length;
  }
  return {
    ...measureLoudness(channels, sampleRate),
    truePeakDb: gainToDb(Math.max(...channels.map(truePeak))),
    samplePeakDb: gainToDb(peak),
    rmsDb: powerToDb(power),
    crestDb: gainToDb(peak) - powerToDb(power),
    correlation: n === 2 ? correlation(channels[0]!, channels[1]!) : 1,
    dc,
    clippedSamples: channels.reduce((sum, x) => sum + countClipped(x), 0),
  };
}
