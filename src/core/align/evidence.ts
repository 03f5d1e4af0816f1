import { filtered, designButterworth } from "../signal/biquad";
import { delayed } from "../signal/fractionalDelay";
import { powerToDb } from "../signal/level";
import type { Samples } from "../signal/samples";

export interface Move {
  polarity: 1 | -1;
  /** Frames; positive: later. */
  delay: number;
}

/** Upper end of the low end, Hz: where polarity faults are heard as missing body. */
export const lowEndHz = 250;

/** Length of a stroke that is judged, s. */
const judged = 0.12;

interface Strokes {
  main: Float32Array[];
  second: Float32Array[];
}

function cut(
  main: Samples,
  second: Samples,
  times: readonly number[],
  pad: number,
  sampleRate: number,
): Strokes {
  const length = Math.round(judged * sampleRate);
  const strokes: Strokes = { main: [], second: [] };
  for (const t of times) {
    const at = Math.round((t - 0.004) * sampleRate);
    if (at - pad < 0 || at + length + pad > main.length) continue;
    strokes.main.push(main.subarray(at - pad, at + length + pad));
    strokes.second.push(second.subarray(at - pad, at + length + pad));
  }
  return strokes;
}

const lowPassed = (x: Float32Array, sampleRate: number) =>
  filtered(x, designButterworth("low", lowEndHz, 4, sampleRate));

function energyOfSum(a: Float32Array, b: Float32Array, polarity: number, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += (a[i]! + polarity * b[i]!) ** 2;
  return sum;
}

/** Gain in dB of the low end of the sum of two mics when the second is moved, over as recorded. */
export function lowEndGain(
  main: Samples,
  second: Samples,
  times: readonly number[],
  move: Move,
  sampleRate: number,
): number {
  const pad = 400;
  const strokes = cut(main, second, times, pad, sampleRate);
  let before = 0;
  let after = 0;
  strokes.main.forEach((a, k) => {
    const low = lowPassed(a, sampleRate);
    const b = lowPassed(strokes.second[k]!, sampleRate);
    before += energyOfSum(low, b, 1, pad, low.length - pad);
    after += energyOfSum(low, delayed(b, move.delay), move.polarity, pad, low.length - pad);
  });
  return powerToDb(after) - powerToDb(before);
}

export interface LowEndCurve {
  /** Delays of the second mic, frames. */
  delays: number[];
  /** Low end of the sum in dB over the louder mic alone, for the mic as recorded and turned over. */
  normal: number[];
  inverted: number[];
}

/** Low-end energy of the sum against the delay of the second mic, for both polarities. */
export function lowEndCurve(
  main: readonly Float32Array[],
  second: readonly Float32Array[],
  reach: number,
  step: number,
  sampleRate: number,
): LowEndCurve {
  const delays: number[] = [];
  for (let d = -reach; d <= reach; d += step) delays.push(d);
  const a = main.map((x) => lowPassed(x, sampleRate));
  const b = second.map((x) => lowPassed(x, sampleRate));
  const pad = Math.ceil(reach);
  const alone = Math.max(
    a.reduce((s, x) => s + energyOfSum(x, x, 0, pad, x.length - pad), 0),
    b.reduce((s, x) => s + energyOfSum(x, x, 0, pad, x.length - pad), 0),
  );
  const curve = (polarity: 1 | -1) =>
    delays.map((d) => {
      let sum = 0;
      a.forEach((x, k) => {
        const y = b[k]!;
        for (let i = pad; i < x.length - pad; i++) sum += (x[i]! + polarity * y[i - d]!) ** 2;
      });
      return powerToDb(sum) - powerToDb(alone);
    });
  return { delays, normal: curve(1), inverted: curve(-1) };
}

/** Mean and deviation of strokes laid over each other, each at its own level. */
export function averageStroke(snippets: readonly Float32Array[]): {
  mean: Float32Array;
  deviation: Float32Array;
} {
  const length = snippets[0]?.length ?? 0;
  const mean = new Float32Array(length);
  const square = new Float32Array(length);
  for (const x of snippets)
    for (let i = 0; i < length; i++) {
      mean[i]! += x[i]! / snippets.length;
      square[i]! += (x[i]! * x[i]!) / snippets.length;
    }
  return { mean, deviation: square.map((s, i) => Math.sqrt(Math.max(0, s - mean[i]! ** 2))) };
}
