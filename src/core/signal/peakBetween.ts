import { kaiser } from "./fractionalDelay";

/** Instants a frame at which a true peak is looked for (BS.1770-5, annex 2: at least four). */
const phases = 4;
/** Half the length of the interpolators, frames. */
export const halfTaps = 12;
/** Interpolators of four times the rate, one a phase, 24 taps each, the first that of the frames themselves; Kaiser window, beta 7. */
export const truePeakTaps = Array.from({ length: phases }, (_, p) =>
  Float64Array.from({ length: 2 * halfTaps }, (__, i) => {
    const t = i - (halfTaps - 1) - p / phases;
    const sinc = Math.abs(t) < 1e-12 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
    return sinc * kaiser(t / halfTaps, 7);
  }),
);

/**
 * Largest amount at the instants between two frames of a line, linear: between frame `from` + halfTaps - 1 and the next one.
 * Shape   the line holds 2 halfTaps frames from `from` on. Allocates nothing.
 */
export function peakBetween(line: Float32Array, from: number): number {
  let most = 0;
  for (let p = 1; p < phases; p++) {
    const taps = truePeakTaps[p]!;
    let sum = 0;
    for (let t = 0; t < 2 * halfTaps; t++) sum += taps[t]! * line[from + t]!;
    if (Math.abs(sum) > most) most = Math.abs(sum);
  }
  return most;
}
