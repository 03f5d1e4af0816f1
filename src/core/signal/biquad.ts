/** Normalised second-order section: y = b0 x + b1 x' + b2 x'' - a1 y' - a2 y''. */
export interface Section {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

const normalise = (b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): Section => ({
  b0: b0 / a0,
  b1: b1 / a0,
  b2: b2 / a0,
  a1: a1 / a0,
  a2: a2 / a0,
});

/** Highest corner that the bilinear transform still places sensibly. Hz. */
const tame = (frequency: number, sampleRate: number): number => Math.min(frequency, 0.49 * sampleRate);

/**
 * Bell. Units: frequency Hz, gain dB, q ratio.
 * Source  W3C Audio EQ Cookbook, "peakingEQ".
 */
export function designBell(frequency: number, gainDb: number, q: number, sampleRate: number): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const a = Math.pow(10, gainDb / 40);
  const alpha = Math.sin(w) / (2 * q);
  const c = -2 * Math.cos(w);
  return normalise(1 + alpha * a, c, 1 - alpha * a, 1 + alpha / a, c, 1 - alpha / a);
}

/**
 * All-pass of second order: -180 degrees at the frequency, level 1 everywhere. Units: frequency Hz, q ratio.
 * Source  W3C Audio EQ Cookbook, "APF".
 */
export function designAllPass(frequency: number, q: number, sampleRate: number): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const alpha = Math.sin(w) / (2 * q);
  const c = -2 * Math.cos(w);
  return normalise(1 - alpha, c, 1 + alpha, 1 + alpha, c, 1 - alpha);
}

/** Complex response of one section at a frequency in Hz. */
export function responseAt(
  { b0, b1, b2, a1, a2 }: Section,
  frequency: number,
  sampleRate: number,
): { re: number; im: number } {
  const w = (2 * Math.PI * frequency) / sampleRate;
  const c1 = Math.cos(w);
  const s1 = Math.sin(w);
  const c2 = Math.cos(2 * w);
  const s2 = Math.sin(2 * w);
  const nr = b0 + b1 * c1 + b2 * c2;
  const ni = -b1 * s1 - b2 * s2;
  const dr = 1 + a1 * c1 + a2 * c2;
  const di = -a1 * s1 - a2 * s2;
  const d = dr * dr + di * di;
  return { re: (nr * dr + ni * di) / d, im: (ni * dr - nr * di) / d };
}

/**
 * Low or high shelf with the given q (0.7071: no overshoot).
 * Source  W3C Audio EQ Cookbook, "lowShelf", "highShelf".
 */
export function designShelf(
  side: "low" | "high",
  frequency: number,
  gainDb: number,
  q: number,
  sampleRate: number,
): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const a = Math.pow(10, gainDb / 40);
  const cos = side === "low" ? Math.cos(w) : -Math.cos(w);
  const flip = side === "low" ? 1 : -1;
  const s = 2 * Math.sqrt(a) * (Math.sin(w) / (2 * q));
  return normalise(
    a * (a + 1 - (a - 1) * cos + s),
    flip * 2 * a * (a - 1 - (a + 1) * cos),
    a * (a + 1 - (a - 1) * cos - s),
    a + 1 + (a - 1) * cos + s,
    flip * -2 * (a - 1 + (a + 1) * cos),
    a + 1 + (a - 1) * cos - s,
  );
}

/** Notch: nothing at the frequency. Units: frequency Hz, q ratio. Source  W3C Audio EQ Cookbook, "notch". */
export function designNotch(frequency: number, q: number, sampleRate: number): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const alpha = Math.sin(w) / (2 * q);
  const c = -2 * Math.cos(w);
  return normalise(1, c, 1, 1 + alpha, c, 1 - alpha);
}

/** Band-pass of level 1 at the frequency. Source  W3C Audio EQ Cookbook, "BPF", constant 0 dB peak gain. */
export function designBandPass(frequency: number, q: number, sampleRate: number): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const alpha = Math.sin(w) / (2 * q);
  return normalise(alpha, 0, -alpha, 1 + alpha, -2 * Math.cos(w), 1 - alpha);
}

/** Second-order low- or high-pass. Source  W3C Audio EQ Cookbook, "LPF", "HPF". */
export function designPass2(side: "low" | "high", frequency: number, q: number, sampleRate: number): Section {
  const w = (2 * Math.PI * tame(frequency, sampleRate)) / sampleRate;
  const alpha = Math.sin(w) / (2 * q);
  const cos = Math.cos(w);
  const edge = side === "low" ? 1 - cos : 1 + cos;
  return normalise(edge / 2, side === "low" ? edge : -edge, edge / 2, 1 + alpha, -2 * cos, 1 - alpha);
}

/** First-order low- or high-pass by the bilinear transform; -3.01 dB at the corner. */
export function designPass1(side: "low" | "high", frequency: number, sampleRate: number): Section {
  const k = Math.tan((Math.PI * tame(frequency, sampleRate)) / sampleRate);
  return side === "low" ? normalise(k, k, 0, 1 + k, k - 1, 0) : normalise(1, -1, 0, 1 + k, k - 1, 0);
}

/**
 * Butterworth low- or high-pass of order 1..8 as second-order sections; 6 dB per octave and order.
 * Source  pole angles pi (2k + 1) / 2n of the Butterworth circle (any filter handbook); -3.01 dB at the corner.
 */
export function designButterworth(
  side: "low" | "high",
  frequency: number,
  order: number,
  sampleRate: number,
): Section[] {
  const sections: Section[] = [];
  for (let k = 0; k < Math.floor(order / 2); k++)
    sections.push(
      designPass2(side, frequency, 1 / (2 * Math.sin((Math.PI * (2 * k + 1)) / (2 * order))), sampleRate),
    );
  if (order % 2 === 1) sections.push(designPass1(side, frequency, sampleRate));
  return sections;
}

/** Magnitude in dB of a cascade at a frequency in Hz. */
export function responseDb(sections: readonly Section[], frequency: number, sampleRate: number): number {
  let db = 0;
  for (const section of sections) {
    const { re, im } = responseAt(section, frequency, sampleRate);
    db += 10 * Math.log10(Math.max(re * re + im * im, 1e-30));
  }
  return db;
}

/** Phase of sections in a row at a frequency, degrees: the sum of theirs, so that steep passes go on beyond half a turn. */
export function phaseDegrees(sections: readonly Section[], frequency: number, sampleRate: number): number {
  let phase = 0;
  for (const section of sections) {
    const { re, im } = responseAt(section, frequency, sampleRate);
    phase += Math.atan2(im, re);
  }
  return (180 * phase) / Math.PI;
}

/**
 * Cascade of sections over one channel, transposed direct form II with 64-bit state.
 * Runs on the audio thread; output may be the input. Latency 0.
 */
export class Cascade {
  private readonly sections: Section[] = [];
  private readonly works: boolean[] = [];
  private idle = true;
  private readonly state: Float64Array;

  constructor(maxSections: number) {
    this.state = new Float64Array(2 * maxSections);
    for (let i = 0; i < maxSections; i++) {
      this.sections.push({ b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 });
      this.works.push(false);
    }
  }

  /** Takes new coefficients; the state of sections that stay is kept, so that a move does not click. */
  set(sections: readonly Section[]): void {
    this.setPlaces(sections);
  }
  /** As `set`, every section in a place of its own; null: nothing in this place. */
  setPlaces(places: readonly (Section | null)[]): void {
    this.idle = true;
    for (let i = 0; i < this.sections.length; i++) {
      const section = places[i] ?? null;
      if (section) {
        Object.assign(this.sections[i]!, section);
        if (!this.works[i]) this.state.fill(0, 2 * i, 2 * i + 2);
        this.idle = false;
      }
      this.works[i] = section !== null;
    }
  }

  reset(): void {
    this.state.fill(0);
  }

  process(x: Float32Array | Float64Array, y: Float32Array | Float64Array, frames: number): void {
    if (this.idle && x !== y) for (let i = 0; i < frames; i++) y[i] = x[i]!;
    let source = x;
    for (let s = 0; s < this.sections.length; s++) {
      if (!this.works[s]) continue;
      if (this.works[s + 1]) this.processTwo(s++, source, y, frames);
      else this.processOne(s, source, y, frames);
      source = y;
    }
  }

  private processOne(
    s: number,
    x: Float32Array | Float64Array,
    y: Float32Array | Float64Array,
    frames: number,
  ): void {
    const { b0, b1, b2, a1, a2 } = this.sections[s]!;
    let z1 = this.state[2 * s]!;
    let z2 = this.state[2 * s + 1]!;
    for (let i = 0; i < frames; i++) {
      const v = x[i]!;
      const out = b0 * v + z1;
      z1 = b1 * v - a1 * out + z2;
      z2 = b2 * v - a2 * out;
      y[i] = out;
    }
    this.keep(s, z1, z2);
  }
  /** A section and the next in one loop: each waits for its own last result, so that two of them take the time of one. */
  private processTwo(
    s: number,
    x: Float32Array | Float64Array,
    y: Float32Array | Float64Array,
    frames: number,
  ): void {
    const { b0: c0, b1: c1, b2: c2, a1: d1, a2: d2 } = this.sections[s]!;
    const { b0, b1, b2, a1, a2 } = this.sections[s + 1]!;
    let p1 = this.state[2 * s]!;
    let p2 = this.state[2 * s + 1]!;
    let q1 = this.state[2 * s + 2]!;
    let q2 = this.state[2 * s + 3]!;
    for (let i = 0; i < frames; i++) {
      const v = x[i]!;
      const between = c0 * v + p1;
      p1 = c1 * v - d1 * between + p2;
      p2 = c2 * v - d2 * between;
      const out = b0 * between + q1;
      q1 = b1 * between - a1 * out + q2;
      q2 = b2 * between - a2 * out;
      y[i] = out;
    }
    this.keep(s, p1, p2);
    this.keep(s + 1, q1, q2);
  }
  /** A long decay would reach denormals, which are slow. */
  private keep(s: number, z1: number, z2: number): void {
    this.state[2 * s] = Math.abs(z1) < 1e-18 ? 0 : z1;
    this.state[2 * s + 1] = Math.abs(z2) < 1e-18 ? 0 : z2;
  }
}

/** Frames behind which states are checked for denormals. */
const checkedEvery = 1024;

/** The next stretch of a signal, filtered. Shape  lengths that `checkedEvery` divides give the same bits as the whole at once. */
export function filteredOn(cascade: Cascade, x: Float32Array): Float32Array {
  const y = new Float32Array(x.length);
  for (let i = 0; i < x.length; i += checkedEvery) {
    const end = Math.min(x.length, i + checkedEvery);
    cascade.process(x.subarray(i, end), y.subarray(i, end), end - i);
  }
  return y;
}

/** A cascade of sections at rest. */
export function cascadeOf(sections: readonly Section[]): Cascade {
  const cascade = new Cascade(sections.length);
  cascade.set(sections);
  return cascade;
}

/** A filtered copy of a whole signal. */
export const filtered = (x: Float32Array, sections: readonly Section[]): Float32Array =>
  filteredOn(cascadeOf(sections), x);
