import { RealFft, powerOfTwo } from "../signal/fft";
import { lowCorrelation, whereLowEndsAgree } from "./lowCorrelation";
import { strokeWindow } from "./strokeWindow";
import type { Samples } from "../signal/samples";

export interface DelayEstimate {
  /** Frames by which `second` is later. */
  delay: number;
  polarity: 1 | -1;
  /** 0..1: how far the best match stands over the second best. */
  confidence: number;
  /** Over how many hits it was measured. */
  hits: number;
}

export interface DelayRange {
  /** Search range in seconds. */
  from: number;
  to: number;
}

/** Part of a stroke that is compared: its attack and first swing, s. */
const before = 0.0015;
const length = 0.022;

/** Frequencies that are compared, Hz: filters of the mics turn the phase below, wires and cymbals differ above. */
const lowestHz = 200;
const highestHz = 9000;

/** Cross-spectrum of two mics and their own power spectra, over strokes that count alike. */
interface StrokeSums {
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly aa: Float64Array;
  readonly bb: Float64Array;
}

type Bins = Pick<StrokeSums, "re" | "im">;

/** Adds a stroke, loud or soft; false when one of the mics is silent at it. */
function addStroke(a: Bins, b: Bins, { re, im, aa, bb }: StrokeSums): boolean {
  let ea = 0;
  let eb = 0;
  for (let k = 1; k < re.length; k++) {
    ea += a.re[k]! ** 2 + a.im[k]! ** 2;
    eb += b.re[k]! ** 2 + b.im[k]! ** 2;
  }
  if (ea <= 0 || eb <= 0) return false;
  const wa = 1 / ea;
  const wb = 1 / eb;
  const wab = Math.sqrt(wa * wb);
  for (let k = 1; k < re.length; k++) {
    re[k]! += wab * (a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!);
    im[k]! += wab * (a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!);
    aa[k]! += wa * (a.re[k]! ** 2 + a.im[k]! ** 2);
    bb[k]! += wb * (b.re[k]! ** 2 + b.im[k]! ** 2);
  }
  return true;
}

/**
 * Delay and polarity of one mic against another over the strokes of a drum.
 * Averages the cross-spectrum of all strokes and weighs every frequency by how alike the two mics are there from
 * stroke to stroke, so that bleed, wires and rooms, which differ, count little.
 * Shape   onsets in frames of `main`; result null with fewer than two usable strokes. `ppm`: drift of the second
 *         recorder, which is taken off; the delay is then that at the song's first frame. `lowEnd`: how much the low end
 *         counts beside the attack when one match is chosen among many; 0: not at all.
 * Source  Knapp and Carter, IEEE Trans. ASSP 24(4), 1976: generalised cross-correlation, maximum-likelihood weight.
 */
export function estimateDelay(
  main: Samples,
  second: Samples,
  onsets: readonly number[],
  range: DelayRange,
  sampleRate: number,
  ppm = 0,
  lowEnd = 0,
): DelayEstimate | null {
  const n = Math.round(length * sampleRate);
  const lead = Math.round(before * sampleRate);
  const low = Math.floor(range.from * sampleRate);
  const high = Math.ceil(range.to * sampleRate);
  const size = powerOfTwo(n + (high - low) + 64);
  const fft = RealFft.of(size);
  const a = fft.spectrum();
  const b = fft.spectrum();
  const bins = size / 2 + 1;
  const sums = {
    re: new Float64Array(bins),
    im: new Float64Array(bins),
    aa: new Float64Array(bins),
    bb: new Float64Array(bins),
  };
  const mainWindow = strokeWindow(n, lead);
  const secondWindow = strokeWindow(n + high - low, lead);
  let used = 0;
  for (const onset of onsets) {
    const at = Math.round(onset) - lead;
    const drifted = onset * ppm * 1e-6;
    const whole = Math.round(drifted);
    if (at < 0 || at + n + high + whole > main.length) continue;
    fft.forward(main, at, n, a, mainWindow);
    fft.forward(second, at + low + whole, n + high - low, b, secondWindow);
    if (drifted !== whole) turn(b, drifted - whole, size);
    if (!addStroke(a, b, sums)) continue;
    used++;
  }
  if (used < 2) return null;
  weigh(sums, used, size, sampleRate);
  const body = lowEnd > 0 ? lowCorrelation(main, second, onsets, low, high, sampleRate, ppm) : null;
  if (body?.dull) {
    const { place, agreement } = whereLowEndsAgree(body.curve);
    const confidence = Math.min(1, Math.abs(agreement)) * Math.min(1, used / 8);
    return { delay: low + place, polarity: agreement < 0 ? -1 : 1, confidence, hits: used };
  }
  return pickPeak(sums, size, low, high - low, used, body?.curve ?? null, lowEnd);
}

/** Moves a spectrum earlier by a part of a frame. */
function turn({ re, im }: { re: Float64Array; im: Float64Array }, frames: number, size: number): void {
  for (let k = 1; k < re.length; k++) {
    const angle = (2 * Math.PI * k * frames) / size;
    const c = Math.cos(angle);
    const s = Math.sin(angle);
    const x = re[k]!;
    re[k] = x * c - im[k]! * s;
    im[k] = x * s + im[k]! * c;
  }
}

/** Replaces magnitudes by the maximum-likelihood weight of Knapp and Carter, table 1 (Hannan-Thomson). */
function weigh({ re, im, aa, bb }: StrokeSums, hits: number, size: number, sampleRate: number): void {
  const lowest = (lowestHz * size) / sampleRate;
  const highest = (highestHz * size) / sampleRate;
  for (let k = 0; k < re.length; k++) {
    const magnitude = Math.hypot(re[k]!, im[k]!);
    if (magnitude === 0 || k < lowest || k > highest) {
      re[k] = im[k] = 0;
      continue;
    }
    let coherence = magnitude ** 2 / (aa[k]! * bb[k]! + 1e-300);
    // Few strokes look coherent by chance; the expected chance value 1/hits is taken off.
    coherence = Math.min(0.98, Math.max(0, (coherence - 1 / hits) / (1 - 1 / hits)));
    const weight = Math.min(12, coherence / (1 - coherence)) / magnitude;
    re[k]! *= weight;
    im[k]! *= weight;
  }
}

/** Frames within which the low end tells nothing. */
const near = 12;

/**
 * Largest value of the correlation, of either sign, refined by a parabola over four times finer steps. With a low end, the
 * place and sign that fit both best; its slow curve chooses among the attack's many peaks.
 */
function pickPeak(
  cross: { re: Float64Array; im: Float64Array },
  size: number,
  low: number,
  span: number,
  hits: number,
  body: Float64Array | null,
  lowEnd: number,
): DelayEstimate {
  const fine = 4;
  const fft = RealFft.of(size * fine);
  const wide = fft.spectrum();
  wide.re.set(cross.re);
  wide.im.set(cross.im);
  const r = new Float64Array(size * fine);
  fft.inverse(wide, r);
  let best = 0;
  const count = span * fine;
  for (let i = 0; i <= count; i++) if (Math.abs(r[i]!) > Math.abs(r[best]!)) best = i;
  if (body) {
    const top = Math.abs(r[best]!) || 1;
    const both = r
      .slice(0, count + 1)
      .map((v, i) => v / top + lowEnd * body[Math.min(span, Math.round(i / fine))]!);
    // The parabola needs a peak of the attack's own: the nearest one that fits.
    const isPeak = (i: number) =>
      Math.abs(r[i]!) >= Math.abs(r[Math.max(0, i - 1)]!) &&
      Math.abs(r[i]!) >= Math.abs(r[i + 1]!) &&
      r[i]! * both[i]! > 0;
    best = 0;
    let most = -1;
    for (let i = 0; i <= count; i++)
      if (Math.abs(both[i]!) > most && isPeak(i)) [best, most] = [i, Math.abs(both[i]!)];
    // Close by, the low end cannot tell places apart: there the attack decides.
    const chosen = best;
    for (let i = Math.max(0, chosen - near * fine); i <= Math.min(count, chosen + near * fine); i++)
      if (r[i]! * r[chosen]! > 0 && Math.abs(r[i]!) > Math.abs(r[best]!)) best = i;
    if (most < 0) for (let i = 0; i <= count; i++) if (Math.abs(r[i]!) > Math.abs(r[best]!)) best = i;
  }
  let second = 0;
  for (let i = 0; i <= count; i++)
    if (Math.abs(i - best) > 6 * fine && Math.abs(r[i]!) > second) second = Math.abs(r[i]!);
  const y0 = Math.abs(r[Math.max(0, best - 1)]!);
  const y1 = Math.abs(r[best]!);
  const y2 = Math.abs(r[best + 1]!);
  const bend = y0 - 2 * y1 + y2;
  const shift = bend < 0 ? (0.5 * (y0 - y2)) / bend : 0;
  return {
    delay: low + (best + Math.max(-0.5, Math.min(0.5, shift))) / fine,
    polarity: r[best]! >= 0 ? 1 : -1,
    confidence: y1 > 0 ? Math.max(0, Math.min(1, 1 - (second / y1) ** 2)) * Math.min(1, hits / 8) : 0,
    hits,
  };
}
