import { kaiser } from "./fractionalDelay";

/** Instants a frame at which a true peak is looked for (BS.1770-5, annex 2: at least four). */
export const phases = 4;
/** Half the length of the interpolators, frames. */
export const halfTaps = 12;
/** Interpolators of four times the rate, one a phase, 24 taps each; Kaiser window, beta 7. */
export const truePeakTaps = Array.from({ length: phases }, (_, p) =>
  Float64Array.from({ length: 2 * halfTaps }, (__, i) => {
    const t = i - (halfTaps - 1) - p / phases;
    const sinc = Math.abs(t) < 1e-12 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
    return sinc * kaiser(t / halfTaps, 7);
  }),
);
