import { hann, powerOfTwo, RealFft } from "../signal/fft";
import { powerToDb } from "../signal/level";

/**
 * Middles of third-octave bands from 31.5 Hz to 16 kHz, Hz.
 * Source  IEC 61260-1:2014, exact mid-band frequencies of the base-ten system, 1000 Hz * 10^(n/10).
 */
export const thirdOctaves: readonly number[] = Array.from(
  { length: 28 },
  (_, i) => 1000 * 10 ** ((i - 15) / 10),
);
/** From the middle of a band to either edge (as there). */
const edge = 10 ** (1 / 20);

/** Length of a look, s: 31.5 Hz has five bins in its band. */
const lookSeconds = 0.6;

/**
 * Level of every third-octave band over a whole stretch, all channels added, dB: full scale is a sine of a sample peak of one at 0 dB less 3.01.
 * Shape  channels of one length. Source  Welch's averaged periodogram with Hann windows that overlap by half; a bin that an edge parts counts by
 * its share.
 */
export function thirdOctaveLevels(channels: readonly Float32Array[], sampleRate: number): number[] {
  const size = powerOfTwo(lookSeconds * sampleRate);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const window = hann(size);
  const power = new Float64Array(size / 2 + 1);
  const frames = channels[0]!.length;
  const hop = size / 2;
  const looks = Math.max(1, Math.floor((frames - size) / hop) + 1);
  for (const x of channels)
    for (let look = 0; look < looks; look++) {
      const from = look * hop;
      fft.forward(x, from, Math.min(size, frames - from), spectrum, window);
      for (let k = 0; k < power.length; k++) power[k]! += spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
    }
  const weight = window.reduce((sum, w) => sum + w * w, 0);
  const perHz = size / sampleRate;
  return thirdOctaves.map((middle) => {
    const [from, to] = [(middle / edge) * perHz + 0.5, Math.min(power.length, middle * edge * perHz + 0.5)];
    let sum = 0;
    for (let k = Math.floor(from); k < to; k++)
      sum += (power[k] ?? 0) * (Math.min(to, k + 1) - Math.max(from, k));
    return powerToDb((2 * sum) / (looks * weight * size));
  });
}
