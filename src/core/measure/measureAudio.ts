import { gainToDb, peakOf, powerOf, powerToDb } from "../signal/level";
import { measureLoudness, type Loudness } from "./loudness";
import { piecesOf, piecesTogether, type Samples } from "../signal/samples";
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

/** Correlation coefficient of two channels of one length over all frames, -1..1; 0 when one is silent. */
export function correlation(left: Samples, right: Samples): number {
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (const pieces of piecesTogether([left, right])) {
    const [a, b] = [pieces[0]!, pieces[1]!];
    for (let i = 0; i < a.length; i++) {
      ab += a[i]! * b[i]!;
      aa += a[i]! * a[i]!;
      bb += b[i]! * b[i]!;
    }
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
}

/** Frames in a row at full scale from which they count as clipped. */
const clippedRun = 3;
function countClipped(x: Samples): number {
  let count = 0;
  let run = 0;
  const end = () => {
    if (run >= clippedRun) count += run;
    run = 0;
  };
  for (const { piece } of piecesOf(x))
    for (let i = 0; i < piece.length; i++) {
      if (Math.abs(piece[i]!) >= 0.99997) run++;
      else if (run > 0) end();
    }
  end();
  return count;
}

/** Mean, linear. */
function meanOf(x: Samples): number {
  let sum = 0;
  for (const { piece } of piecesOf(x)) for (let i = 0; i < piece.length; i++) sum += piece[i]!;
  return sum / x.length;
}

/** Everything `jubo measure` says about one or two channels. */
export function measureAudio(channels: readonly Samples[], sampleRate: number): Measurement {
  const n = channels.length;
  const power = channels.reduce((sum, x) => sum + powerOf(x), 0) / n;
  const peak = Math.max(...channels.map((x) => peakOf(x)));
  let dc = 0;
  for (const x of channels) {
    const mean = meanOf(x);
    if (Math.abs(mean) > Math.abs(dc)) dc = mean;
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
