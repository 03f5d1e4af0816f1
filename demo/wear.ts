import { dbToGain, peakOf } from "../src/core/signal/level";

/** What a preamp makes of a signal that drives it `drive` dB over where it begins to round; the peak stays where it was. */
export function overdriven(x: Float32Array, drive: number, peakDb: number): Float32Array {
  const limit = dbToGain(peakDb - drive);
  const top = limit * Math.tanh(dbToGain(peakDb) / limit) || 1;
  const back = dbToGain(peakDb) / top;
  return x.map((v) => back * limit * Math.tanh(v / limit));
}

/** A fast compressor on the way to the recorder: takes up to `squash` dB off, 2 ms in, 150 ms out; the peak stays. */
export function squashed(x: Float32Array, squash: number, rate: number): Float32Array {
  const before = peakOf(x);
  const threshold = before * dbToGain(-1.5 * squash);
  const up = Math.exp(-1 / (0.002 * rate));
  const down = Math.exp(-1 / (0.15 * rate));
  let level = 0;
  const y = x.map((v) => {
    const now = Math.abs(v);
    level = now + (now > level ? up : down) * (level - now);
    return level > threshold ? v * (threshold / level) ** (2 / 3) : v;
  });
  const after = peakOf(y) || 1;
  return y.map((v) => (v * before) / after);
}
