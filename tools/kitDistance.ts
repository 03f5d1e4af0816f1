import { bandPower, hann, powerOfTwo, RealFft } from "../src/core/signal/fft";
import { median } from "../src/core/signal/level";

const [bands, perSecond] = [24, 100];
/** What lies this far under a band's loudest is not looked at, and no difference counts for more, dB. */
const [heard, most] = [45, 40];

/** Levels of one channel by look and band, dB. */
function looks(x: Float32Array, rate: number): Float64Array[] {
  const size = powerOfTwo(0.02 * rate);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const edges = Array.from({ length: bands + 1 }, (_, i) =>
    Math.floor((size / rate) * 60 * (16000 / 60) ** (i / bands)),
  );
  return Array.from({ length: Math.floor((x.length / rate) * perSecond) }, (_, look) => {
    fft.forward(x, Math.round((look * rate) / perSecond) - size / 2, size, spectrum, hann(size));
    return Float64Array.from(
      { length: bands },
      (_, b) =>
        10 * Math.log10(1e-12 + bandPower(spectrum, edges[b]!, Math.max(edges[b]! + 1, edges[b + 1]!))),
    );
  });
}

/**
 * Mean difference of two kits by band and hundredth of a second, dB, where the ideal one lies within 45 dB of its loudest there; what one has
 * more of a band all along is taken off, so that tone and loudness play no part. Shape  channels of one length, as many in both.
 */
export function kitDistance(
  ideal: readonly Float32Array[],
  kit: readonly Float32Array[],
  rate: number,
): number {
  let [sum, count] = [0, 0];
  ideal.forEach((x, ch) => {
    const [a, b] = [looks(x, rate), looks(kit[ch]!, rate)];
    for (let band = 0; band < bands; band++) {
      const loudest = a.reduce((top, look) => Math.max(top, look[band]!), -Infinity);
      const off = a.flatMap((look, i) => (look[band]! > loudest - heard ? [b[i]![band]! - look[band]!] : []));
      if (off.length === 0) continue;
      const usual = median(off);
      for (const d of off) sum += Math.min(most, Math.abs(d - usual));
      count += off.length;
    }
  });
  return sum / count;
}
