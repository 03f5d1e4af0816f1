import { RealFft, powerOfTwo } from "../signal/fft";
import { strokeWindow } from "./strokeWindow";
import type { Samples } from "../signal/samples";

/** Part of a stroke whose low end is compared, s, and where it lies, Hz: what is heard as the drum's body. */
const bodySeconds = 0.09;
const bodyHz = [45, 250] as const;

/** A mic with less than this above its low end hears no attack (a large cone as a mic), dB. */
const dullBelow = -36;
const attackHz = [400, 3000] as const;

/** How the low ends of two mics agree, and whether the second has hardly anything above. */
export interface LowAgreement {
  /** By delay of the second in frames. */
  readonly curve: Float64Array;
  readonly dull: boolean;
}

/**
 * Correlation of the low end of two mics over the strokes, by delay of the second in frames from `low` to `high`, normalised
 * by the energies: +1 alike, -1 upside down. Null with fewer than two usable strokes.
 */
export function lowCorrelation(
  main: Samples,
  second: Samples,
  onsets: readonly number[],
  low: number,
  high: number,
  sampleRate: number,
  ppm = 0,
): LowAgreement | null {
  const lead = Math.round(0.004 * sampleRate);
  const n = Math.round(bodySeconds * sampleRate) + lead;
  const size = powerOfTwo(n + (high - low) + 64);
  const fft = RealFft.of(size);
  const [a, b] = [fft.spectrum(), fft.spectrum()];
  const cross = fft.spectrum();
  cross.re.fill(0);
  cross.im.fill(0);
  const [mainWindow, secondWindow] = [strokeWindow(n, lead), strokeWindow(n + high - low, lead)];
  const from = Math.max(1, Math.round((bodyHz[0] * size) / sampleRate));
  const to = Math.round((bodyHz[1] * size) / sampleRate);
  const [above, top] = attackHz.map((hz) => Math.round((hz * size) / sampleRate)) as [number, number];
  let [ea, eb, highs, used] = [0, 0, 0, 0];
  for (const onset of onsets) {
    const at = Math.round(onset) - lead;
    const whole = Math.round(onset * ppm * 1e-6);
    if (at < 0 || at + low + whole < 0 || at + n + high + whole > main.length) continue;
    fft.forward(main, at, n, a, mainWindow);
    fft.forward(second, at + low + whole, n + high - low, b, secondWindow);
    let [oa, ob] = [1e-20, 1e-20];
    for (let k = from; k <= to; k++) {
      oa += a.re[k]! ** 2 + a.im[k]! ** 2;
      ob += b.re[k]! ** 2 + b.im[k]! ** 2;
    }
    const w = 1 / Math.sqrt(oa * ob);
    for (let k = from; k <= to; k++) {
      cross.re[k]! += w * (a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!);
      cross.im[k]! += w * (a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!);
    }
    ea += oa * w;
    eb += ob * w;
    for (let k = above; k < top; k++) highs += w * (b.re[k]! ** 2 + b.im[k]! ** 2);
    used++;
  }
  if (used < 2) return null;
  const r = new Float64Array(size);
  fft.inverse(cross, r);
  // The inverse of a half spectrum counts every bin twice, over size.
  const scale = size / (2 * Math.sqrt(ea * eb));
  return {
    curve: r.slice(0, high - low + 1).map((v) => v * scale),
    dull: 10 * Math.log10(highs / eb + 1e-12) < dullBelow,
  };
}

/** Index at which the low ends agree best, of either sign, and how much: +1 alike, -1 upside down. */
export function whereLowEndsAgree(curve: Float64Array): { place: number; agreement: number } {
  let place = 0;
  for (let i = 1; i < curve.length; i++) if (Math.abs(curve[i]!) > Math.abs(curve[place]!)) place = i;
  return { place, agreement: curve[place]! };
}
