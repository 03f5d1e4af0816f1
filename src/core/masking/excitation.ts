import { hann, powerOfTwo, RealFft } from "../signal/fft";

/** Equivalent rectangular bandwidth of hearing at a frequency, Hz. Source  Glasberg and Moore, Hearing Research 47, 1990, eq. 3. */
export const erbAt = (frequency: number): number => 24.7 * (4.37e-3 * frequency + 1);
/** Number of such bands below a frequency. Source  the same, eq. 4. */
export const erbNumber = (frequency: number): number => 21.4 * Math.log10(4.37e-3 * frequency + 1);
const frequencyOf = (erbs: number): number => (10 ** (erbs / 21.4) - 1) / 4.37e-3;

const [lowest, highest] = [30, 15000];
/** Bands lie half a bandwidth apart. */
const step = 0.5;
/** Middles of the bands, Hz, ascending. */
export const bandCentres: readonly number[] = Array.from(
  { length: Math.floor((erbNumber(highest) - erbNumber(lowest)) / step) + 1 },
  (_, i) => frequencyOf(erbNumber(lowest) + i * step),
);

/** What is looked at from a stroke on, s: its attack and body. */
export const maskedSeconds = 0.12;
/** Weights smaller than this are left out. */
const leastWeight = 1e-5;

/** Bins that an auditory filter hears, from `first` on, with its weights. */
interface Heard {
  readonly first: number;
  readonly weights: Float64Array;
}
const known = new Map<number, { size: number; bands: Heard[] }>();

/**
 * Auditory filters over the bins of a transform: rounded exponentials, (1 + p g) exp(-p g) with p = 4 fc / ERB(fc).
 * Source  Patterson, Nimmo-Smith, Weber, Milroy, J. Acoust. Soc. Am. 72, 1982; symmetric, whatever the level.
 */
function filtersAt(sampleRate: number): { size: number; bands: Heard[] } {
  const found = known.get(sampleRate);
  if (found) return found;
  const size = powerOfTwo(2 * maskedSeconds * sampleRate);
  const bins = size / 2;
  const bands = bandCentres.map((fc): Heard => {
    const p = (4 * fc) / erbAt(fc);
    const weight = (k: number): number => {
      const g = Math.abs((k * sampleRate) / size - fc) / fc;
      return (1 + p * g) * Math.exp(-p * g);
    };
    const middle = Math.min(bins, Math.round((fc * size) / sampleRate));
    let [from, to] = [middle, middle];
    while (from > 1 && weight(from - 1) > leastWeight) from--;
    while (to < bins && weight(to + 1) > leastWeight) to++;
    return { first: from, weights: Float64Array.from({ length: to - from + 1 }, (_, i) => weight(from + i)) };
  });
  const made = { size, bands };
  known.set(sampleRate, made);
  return made;
}

/**
 * Excitation of each band by what sounds from a frame on, dB against full scale; both channels of a pair add up in power.
 * Shape   channels of one length; result: one value a band. Nothing is -200 dB.
 */
export function excitation(
  channels: readonly Float32Array[],
  from: number,
  sampleRate: number,
): Float64Array {
  const { size, bands } = filtersAt(sampleRate);
  const frames = Math.round(maskedSeconds * sampleRate);
  const falls = hann(2 * frames).subarray(frames);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const power = new Float64Array(size / 2 + 1);
  const begin = Math.max(0, Math.round(from));
  for (const x of channels) {
    const piece = x.subarray(begin, begin + frames);
    fft.forward(piece, 0, piece.length, spectrum, falls.subarray(0, piece.length));
    for (let k = 0; k < power.length; k++) power[k]! += spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
  }
  return Float64Array.from(bands, ({ first, weights }) => {
    let sum = 0;
    for (let i = 0; i < weights.length; i++) sum += weights[i]! * power[first + i]!;
    return 10 * Math.log10(Math.max(1e-20, (4 * sum) / (size * frames)));
  });
}
