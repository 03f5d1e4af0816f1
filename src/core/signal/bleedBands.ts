import { powerOfTwo } from "./fft";

/** Bands in which bleed is told apart. */
export const bleedBands = 20;
/** Length of a look at the sound, s; the power of two next above is taken. */
const lookSeconds = 0.0133;

/** Frames of one look; looks follow each other by half of it. */
export const lookFrames = (sampleRate: number): number => powerOfTwo(lookSeconds * sampleRate);

/** ERB rate of a frequency in Hz. Source  Glasberg and Moore, Hearing Research 47, 1990. */
const erbRate = (hz: number): number => 21.4 * Math.log10(1 + 0.00437 * hz);
const hzOf = (rate: number): number => (10 ** (rate / 21.4) - 1) / 0.00437;
const lowest = 40;
/** The bands end here at every sample rate; the last one takes what lies above. */
const highest = 20000;

/** Edges of the bands in Hz, equally spaced as the ear does; the first band begins at 0. */
export const bleedEdges: readonly number[] = Array.from({ length: bleedBands + 1 }, (_, b) =>
  b === 0 ? 0 : hzOf(erbRate(lowest) + ((erbRate(highest) - erbRate(lowest)) * b) / bleedBands),
);

/** First bin of every band of a look, and one behind the last: size/2 + 1. Bands that begin below half the rate hold a bin. */
export function bandBins(size: number, sampleRate: number): Int32Array {
  const bins = new Int32Array(bleedBands + 1);
  for (let b = 1; b <= bleedBands; b++)
    bins[b] = Math.min(
      size / 2 + 1,
      Math.max(bins[b - 1]! + 1, Math.round((bleedEdges[b]! * size) / sampleRate)),
    );
  bins[bleedBands] = size / 2 + 1;
  return bins;
}

/** Square root of a Hann window: looks overlapping by half, windowed before and behind, add up to the signal. */
export const lookWindow = (size: number): Float64Array =>
  Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size));

/** Energy of nothing: what lies under it is no sound. */
export const powerFloor = 1e-12;
/** By what the squared magnitudes of an unnormalised spectrum are multiplied for the energies of bands. */
export const powerScale = (size: number): number => 1 / (size * size);

/** Mean energies of a look's half spectrum by band, into `out`. */
export function bandPowers(
  spectrum: { readonly re: Float64Array; readonly im: Float64Array },
  bins: Int32Array,
  size: number,
  out: Float64Array,
): void {
  const { re, im } = spectrum;
  const scale = powerScale(size);
  for (let b = 0; b < bleedBands; b++) {
    let sum = 0;
    for (let k = bins[b]!; k < bins[b + 1]!; k++) sum += re[k]! * re[k]! + im[k]! * im[k]!;
    out[b] = sum * scale + powerFloor;
  }
}
