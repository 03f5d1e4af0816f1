import type { Hit, Tempo } from "../song/song";

/** Strength of a pulse at `frequency` Hz in weighted instants: magnitude and phase (as a time, s) of their Fourier sum. */
function pulse(
  times: readonly number[],
  weights: readonly number[],
  frequency: number,
): { strength: number; offset: number } {
  let re = 0;
  let im = 0;
  let total = 0;
  for (let i = 0; i < times.length; i++) {
    const angle = 2 * Math.PI * frequency * times[i]!;
    re += weights[i]! * Math.cos(angle);
    im += weights[i]! * Math.sin(angle);
    total += weights[i]!;
  }
  const phase = Math.atan2(im, re) / (2 * Math.PI * frequency);
  return { strength: total > 0 ? Math.hypot(re, im) / total : 0, offset: phase };
}

/** How usual a tempo is: a bell over the logarithm around 112 bpm, 0.75 octaves wide (common practice, no source). */
const usual = (bpm: number): number => Math.exp(-0.5 * (Math.log2(bpm / 112) / 0.75) ** 2);

const weightOf = (h: Hit): number =>
  h.ghost
    ? 0.15
    : h.piece === "kick" || h.piece === "snare"
      ? 1
      : h.piece === "hat" || h.piece === "ride"
        ? 0.35
        : 0.6;

/** As `pulse`, for frequencies that rise by equal steps: the instants' phasors are turned on instead of computed anew. */
class PulseScan {
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly turnRe: Float64Array;
  private readonly turnIm: Float64Array;
  private readonly total: number;
  private frequency: number;

  constructor(
    times: readonly number[],
    weights: readonly number[],
    first: number,
    private readonly step: number,
  ) {
    this.frequency = first;
    const phasor = (f: number, part: (angle: number) => number) => Float64Array.from(times, (t) => part(2 * Math.PI * f * t)); // prettier-ignore
    this.re = phasor(first, Math.cos).map((v, i) => v * weights[i]!);
    this.im = phasor(first, Math.sin).map((v, i) => v * weights[i]!);
    this.turnRe = phasor(step, Math.cos);
    this.turnIm = phasor(step, Math.sin);
    this.total = weights.reduce((sum, w) => sum + w, 0);
  }
  /** Strength and offset at the next frequency. */
  next(): { strength: number; offset: number } {
    const { re, im, turnRe, turnIm } = this;
    let sumRe = 0;
    let sumIm = 0;
    for (let i = 0; i < re.length; i++) {
      const x = re[i]!;
      const y = im[i]!;
      sumRe += x;
      sumIm += y;
      re[i] = x * turnRe[i]! - y * turnIm[i]!;
      im[i] = x * turnIm[i]! + y * turnRe[i]!;
    }
    const offset = Math.atan2(sumIm, sumRe) / (2 * Math.PI * this.frequency);
    this.frequency += this.step;
    return { strength: this.total > 0 ? Math.hypot(sumRe, sumIm) / this.total : 0, offset };
  }
}

/** Likeliest tempo: strokes on its sixteenths, more on eighths and beats, the backbeat on every second beat. */
function likeliestBpm(
  hits: readonly Hit[],
  times: readonly number[],
  weights: readonly number[],
  step: number,
): number {
  const [low, high] = [60, 200];
  const snares = hits.filter((h) => h.piece === "snare" && !h.ghost).map((h) => h.time);
  const kicks = hits.filter((h) => h.piece === "kick").map((h) => h.time);
  const ones = (list: readonly number[]) => list.map(() => 1);
  const scan = (list: readonly number[], w: readonly number[], perBeat: number) =>
    new PulseScan(list, w, (perBeat * low) / 60, (perBeat * step) / 60);
  const sixteenth = scan(times, weights, 4);
  const eighth = scan(times, weights, 2);
  const beat = scan(times, weights, 1);
  const back = scan(snares, ones(snares), 0.5);
  const front = scan(kicks, ones(kicks), 0.5);
  const backbeat = snares.length > 3 && kicks.length > 3;
  let best = { bpm: low, score: -1 };
  for (let n = 0; low + n * step <= high; n++) {
    const bpm = low + n * step;
    const [b, f] = [back.next(), front.next()];
    // Snares on 2 and 4 lie half a period of two beats from the kicks on 1 and 3.
    const apart = backbeat ? -Math.cos((Math.PI * bpm * (b.offset - f.offset)) / 60) : 0;
    const score =
      (1.2 * sixteenth.next().strength +
        0.7 * eighth.next().strength +
        0.5 * beat.next().strength +
        0.9 * b.strength * Math.max(0, apart) * Math.min(1, 2 * f.strength + 0.3)) *
      (0.35 + 0.65 * usual(bpm));
    if (score > best.score) best = { bpm, score };
  }
  return best.bpm;
}

/** Tempo that fits instants best near a first guess: least squares on the nearest sixteenths, outliers left out. */
function refine(
  times: readonly number[],
  weights: readonly number[],
  bpm: number,
  offset: number,
): { bpm: number; offset: number } {
  let period = 15 / bpm;
  let start = offset;
  for (let round = 0; round < 6; round++) {
    let sw = 0, si = 0, st = 0, sii = 0, sit = 0; // prettier-ignore
    for (let k = 0; k < times.length; k++) {
      const i = Math.round((times[k]! - start) / period);
      const off = Math.abs(times[k]! - start - i * period);
      if (off > 0.3 * period) continue;
      const w = weights[k]! / (1 + (off / 0.008) ** 2);
      sw += w;
      si += w * i;
      st += w * times[k]!;
      sii += w * i * i;
      sit += w * i * times[k]!;
    }
    const det = sw * sii - si * si;
    if (det <= 0) break;
    period = (sw * sit - si * st) / det;
    start = (st - period * si) / sw;
  }
  return { bpm: 15 / period, offset: start };
}

/**
 * Measures a constant tempo and its first beat from strokes.
 * Returns null when fewer than six strokes are there. Range 60 to 200 bpm; beat one by kicks on 1 and 3, snares on 2
 * and 4. Half or double tempo is settled by the backbeat and by how usual a tempo is.
 */
export function measureTempo(
  hits: readonly Hit[],
  durationSeconds: number,
  beatsPerBar = 4,
  typedBpm?: number,
): Tempo | null {
  const used = hits.filter((h) => !h.ghost || hits.length < 40);
  if (used.length < 6) return null;
  const times = used.map((h) => h.time);
  const weights = used.map(weightOf);
  const span = Math.max(5, times[times.length - 1]! - times[0]!);
  const guess = typedBpm ?? likeliestBpm(used, times, weights, Math.min(0.5, 6 / span));
  const grid = pulse(times, weights, (4 * guess) / 60);
  const fitted = refine(times, weights, guess, grid.offset);
  const bpm = typedBpm ?? fitted.bpm;
  const beat = 60 / bpm;
  const start = firstBeat(used, fitted.offset, beat, beatsPerBar);
  const beats: number[] = [];
  for (let t = start; t < durationSeconds; t += beat) beats.push(t);
  return { bpm, firstBeat: start, beatsPerBar, beats };
}

/** Which sixteenth is beat one of a bar: kicks want to lie on 1 (and 3), snares on 2 and 4; the first near the start. */
function firstBeat(hits: readonly Hit[], offset: number, beat: number, beatsPerBar: number): number {
  const bar = beat * beatsPerBar;
  let best = { start: offset, score: -Infinity };
  for (let s = 0; s < 4 * beatsPerBar; s++) {
    const start = offset + (s * beat) / 4;
    let score = 0;
    for (const h of hits) {
      const inBar = ((((h.time - start) % bar) + bar) % bar) / beat;
      const near = (at: number) =>
        Math.abs(((inBar - at + beatsPerBar * 1.5) % beatsPerBar) - beatsPerBar / 2) < 0.12;
      const weight = h.ghost ? 0.1 : 1;
      if (h.piece === "kick") score += weight * (near(0) ? 2 : near(2) ? 0.9 : near(1) || near(3) ? -0.5 : 0);
      else if (h.piece === "snare")
        score += weight * (near(1) || near(3) ? 1.2 : near(0) ? -1 : near(2) ? -0.7 : 0);
      else if (h.piece === "crash") score += near(0) ? 3 : 0;
      else if (h.piece === "hat" || h.piece === "ride")
        score += near(0) || near(1) || near(2) || near(3) ? 0.25 : 0;
    }
    if (score > best.score) best = { start, score };
  }
  const first = hits.reduce((least, h) => Math.min(least, h.time), Infinity);
  // The first bar line that a stroke lies on or after, within a sixteenth.
  let start = best.start;
  while (start > first + 0.3 * beat) start -= bar;
  while (start < first - 0.3 * beat) start += bar;
  // A pick-up before the first full bar belongs to the bar before; the first beat is the first one that is played.
  while (start - beat > first - 0.3 * beat) start -= beat;
  return start;
}
