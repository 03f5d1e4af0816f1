import { RealFft, powerOfTwo } from "../signal/fft";

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
  main: Float32Array,
  second: Float32Array,
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
  const re = new Float64Array(bins);
  const im = new Float64Array(bins);
  const aa = new Float64Array(bins);
  const bb = new Float64Array(bins);
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
    let ea = 0;
    let eb = 0;
    for (let k = 1; k < bins; k++) {
      ea += a.re[k]! ** 2 + a.im[k]! ** 2;
      eb += b.re[k]! ** 2 + b.im[k]! ** 2;
    }
    if (ea <= 0 || eb <= 0) continue;
    const wa = 1 / ea;
    const wb = 1 / eb;
    const wab = Math.sqrt(wa * wb);
    for (let k = 1; k < bins; k++) {
      re[k]! += wab * (a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!);
      im[k]! += wab * (a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!);
      aa[k]! += wa * (a.re[k]! ** 2 + a.im[k]! ** 2);
      bb[k]! += wb * (b.re[k]! ** 2 + b.im[k]! ** 2);
    }
    used++;
  }
  if (used < 2) return null;
  weigh(re, im, aa, bb, used, size, sampleRate);
  const body = lowEnd > 0 ? lowCorrelation(main, second, onsets, low, high, sampleRate, ppm) : null;
  if (body?.dull) return pickBody(body.curve, low, used);
  return pickPeak({ re, im }, size, low, high - low, used, body?.curve ?? null, lowEnd);
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

/** Rises within the lead and falls off towards the end, so that cuts do not count as signal. */
function strokeWindow(length: number, lead: number): Float64Array {
  const w = new Float64Array(length);
  const fall = Math.round(length * 0.35);
  for (let i = 0; i < length; i++) {
    const up = i < lead ? 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / lead) : 1;
    const left = length - i - 0.5;
    w[i] = up * (left < fall ? 0.5 - 0.5 * Math.cos((Math.PI * left) / fall) : 1);
  }
  return w;
}

/** Replaces magnitudes by the maximum-likelihood weight of Knapp and Carter, table 1 (Hannan-Thomson). */
function weigh(
  re: Float64Array,
  im: Float64Array,
  aa: Float64Array,
  bb: Float64Array,
  hits: number,
  size: number,
  sampleRate: number,
): void {
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
  main: Float32Array,
  second: Float32Array,
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

/** Frames within which the low end tells nothing. */
const near = 12;

/** Where the low ends agree best, of either sign; how sure by how far they do. */
function pickBody(curve: Float64Array, low: number, hits: number): DelayEstimate {
  let best = 0;
  for (let i = 1; i < curve.length; i++) if (Math.abs(curve[i]!) > Math.abs(curve[best]!)) best = i;
  return {
    delay: low + best,
    polarity: curve[best]! >= 0 ? 1 : -1,
    confidence: Math.min(1, Math.abs(curve[best]!)) * Math.min(1, hits / 8),
    hits,
  };
}

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
    const both = r.slice(0, count + 1).map((v, i) => v / top + lowEnd * body[Math.min(span, Math.round(i / fine))]!); // prettier-ignore
    // The parabola needs a peak of the attack's own: the nearest one that fits.
    const isPeak = (i: number) => Math.abs(r[i]!) >= Math.abs(r[Math.max(0, i - 1)]!) && Math.abs(r[i]!) >= Math.abs(r[i + 1]!) && r[i]! * both[i]! > 0; // prettier-ignore
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
