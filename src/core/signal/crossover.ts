import { designAllPass, designButterworth, type Section } from "./biquad";

/** Least distance of two crossovers, as a ratio. */
const apart = 1.1;
/** Crossovers that lie apart and ascend, whatever is set. Units: Hz. */
export const ascending = (frequencies: readonly number[]): number[] =>
  frequencies.reduce<number[]>((all, f) => [...all, Math.max(f, (all.at(-1) ?? 0) * apart)], []);

/**
 * Filters of every band one after another: high-passes of the crossovers below it, the low-pass of the one above, and for
 * each further one the all-pass that its halves sum to, so that the bands add up to one all-pass: flat in level.
 * Source  Linkwitz, J. Audio Eng. Soc. 24(1), 1976; compensation: D'Appolito, J. Audio Eng. Soc. 32, 1984 (from memory).
 */
export function designBands(frequencies: readonly number[], sampleRate: number): Section[][] {
  const twice = (side: "low" | "high", f: number) => {
    const half = designButterworth(side, f, 2, sampleRate);
    return [...half, ...half];
  };
  return Array.from({ length: frequencies.length + 1 }, (_, band) =>
    frequencies.flatMap((f, k) => {
      if (k < band) return twice("high", f);
      if (k === band) return twice("low", f);
      return [designAllPass(f, Math.SQRT1_2, sampleRate)];
    }),
  );
}
