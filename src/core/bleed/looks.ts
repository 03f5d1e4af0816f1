import { instantiateKernels, kernelsReserve } from "../kernels/kernels";
import { bandBins, bleedBands, lookFrames, lookWindow, powerFloor, powerScale } from "../signal/bleedBands";
import { fftTables } from "../signal/fftTables";
import { pieces } from "../song/song";
import { least, steps, type Separation } from "./separate";

/** Signals of which the kernels work out one look at once. */
export const looksAtOnce = 4;
const rowBytes = 32;
/** Whatever a song says that its mics hear, there is room for it. */
const mostSources = pieces.length;

/** What the kernels need of one group of four signals, as places in their memory. */
interface Group {
  readonly spectrum: number;
  readonly sum: number;
  /** Two halves of a look a signal: one is played while the other is worked out. */
  readonly halves: readonly [number, number];
}

/** Hands out places in the memory of the kernels, aligned to 16 bytes. */
class Places {
  next = kernelsReserve;
  take(bytes: number): number {
    const at = this.next;
    this.next += (bytes + 15) & ~15;
    return at;
  }
}

/**
 * Looks at all signals of a kit, four at once: spectra, energies by band, each drum's share of them (Separation), and the
 * sound of spectra whose bands are turned down. Everything lies in a memory of its own, taken once.
 * Shape  channels: the most signals; powers, gains and applied: by signal, a value a band. Errors  as instantiateKernels.
 */
export class Looks {
  readonly size: number;
  readonly powers: readonly Float64Array[];
  /** Share of its own drum in what a signal hears, power 0..1. */
  readonly gains: readonly Float64Array[];
  /** By what its bands are multiplied in `sound`, amplitude. */
  readonly applied: readonly Float64Array[];
  /** Where the frames of four signals are put for `listen`. */
  readonly frames: readonly Float32Array[];
  private readonly kernels;
  private readonly buffer: ArrayBuffer;
  private readonly groups: readonly Group[];
  private readonly at;
  private readonly halves: readonly (readonly [Float32Array, Float32Array])[];
  private turn: 0 | 1 = 0;
  /** Energies of the drums as their search starts, [source][band]. */
  private readonly energy: Float64Array;
  private sources = 0;
  private observers = 0;

  constructor(sampleRate: number, channels: number) {
    const size = (this.size = lookFrames(sampleRate));
    const count = Math.ceil(channels / looksAtOnce);
    const signals = count * looksAtOnce;
    const places = new Places();
    const rows = () => places.take(rowBytes * size);
    const bands = (many: number) => places.take(8 * bleedBands * many);
    this.at = {
      tables: places.take(20 * size),
      edges: places.take(4 * (bleedBands + 1)),
      first: places.take(4 * bleedBands),
      shares: places.take(8 * (size / 2 + 1)),
      frames: places.take(4 * looksAtOnce * size),
      work: rows(),
      powers: bands(signals),
      weights: bands(signals),
      gains: bands(signals),
      applied: bands(signals),
      own: places.take(4 * signals),
      heard: bands(signals * mostSources),
      down: bands(mostSources),
      energy: bands(mostSources),
      up: bands(mostSources),
    };
    const half = 2 * looksAtOnce * size;
    this.groups = Array.from({ length: count }, () => ({
      spectrum: rows(),
      sum: rows(),
      halves: [places.take(half), places.take(half)] as const,
    }));
    const { kernels, buffer } = instantiateKernels(places.next);
    this.kernels = kernels;
    this.buffer = buffer;
    const byBand = (at: number) =>
      Array.from({ length: signals }, (_, s) => this.doubles(at + 8 * bleedBands * s, bleedBands));
    this.powers = byBand(this.at.powers);
    this.gains = byBand(this.at.gains);
    this.applied = byBand(this.at.applied);
    this.frames = Array.from(
      { length: looksAtOnce },
      (_, s) => new Float32Array(buffer, this.at.frames + 4 * size * s, size),
    );
    this.halves = Array.from({ length: signals }, (_, s) => {
      const { halves } = this.groups[Math.floor(s / looksAtOnce)]!;
      const from = 2 * size * (s % looksAtOnce);
      return [
        new Float32Array(buffer, halves[0] + from, size / 2),
        new Float32Array(buffer, halves[1] + from, size / 2),
      ] as const;
    });
    this.energy = this.doubles(this.at.energy, mostSources * bleedBands);
    this.fillTables(sampleRate);
  }

  private doubles(at: number, length: number): Float64Array {
    return new Float64Array(this.buffer, at, length);
  }

  private fillTables(sampleRate: number): void {
    const { size, at, buffer } = this;
    this.doubles(at.tables, size).set(lookWindow(size));
    const { cos, minusSin, reversed } = fftTables(size);
    this.doubles(at.tables + 8 * size, size / 2).set(cos);
    this.doubles(at.tables + 12 * size, size / 2).set(minusSin);
    new Uint32Array(buffer, at.tables + 16 * size, size).set(reversed.map((place) => rowBytes * place));
    const bins = bandBins(size, sampleRate);
    new Int32Array(buffer, at.edges, bins.length).set(bins);
    // Gains move in straight lines from the middle of one band to that of the next.
    const middle = (b: number) => (bins[b]! + bins[b + 1]! - 1) / 2;
    const first = new Int32Array(buffer, at.first, bleedBands);
    const shares = this.doubles(at.shares, size / 2 + 1);
    for (let k = 0, b = 0; k < shares.length; k++) {
      while (b < bleedBands - 2 && k > middle(b + 1)) first[++b] = k;
      shares[k] = Math.min(1, Math.max(0, (k - middle(b)) / (middle(b + 1) - middle(b))));
    }
    first[bleedBands - 1] = shares.length;
  }

  /** Takes what the observers are known to hear; signal s is its observer s. */
  learn(separation: Separation): void {
    const { heard, weights, down, observers, sources } = separation;
    [this.observers, this.sources] = [observers.length, sources.length];
    const { at } = this;
    const [M, K] = [this.observers, this.sources];
    const into = {
      weights: this.doubles(at.weights, M * bleedBands),
      heard: this.doubles(at.heard, M * K * bleedBands),
      down: this.doubles(at.down, K * bleedBands),
    };
    for (let b = 0; b < bleedBands; b++) {
      for (let m = 0; m < M; m++) into.weights[m * bleedBands + b] = weights[b * M + m]!;
      for (let r = 0; r < M * K; r++) into.heard[r * bleedBands + b] = heard[b * M * K + r]!;
      for (let k = 0; k < K; k++) into.down[k * bleedBands + b] = down[b * K + k]!;
    }
    new Int32Array(this.buffer, at.own, M).set(observers.map((o) => o.own));
  }

  /** Forgets what overlaps and what is played. */
  reset(): void {
    for (const { sum } of this.groups) this.doubles(sum, (rowBytes / 8) * this.size).fill(0);
    for (const both of this.halves) for (const half of both) half.fill(0);
  }

  /** Spectra and energies of the four signals of a group, of what lies in `frames`. What is no number is silence. */
  listen(group: number): void {
    const { at, size, kernels } = this;
    const { spectrum } = this.groups[group]!;
    kernels.lookSpectra(at.frames, size, at.tables, spectrum);
    const out = at.powers + 8 * bleedBands * looksAtOnce * group;
    kernels.lookPowers(spectrum, size, at.edges, bleedBands, powerScale(size), powerFloor, out);
  }

  /** Tells the drums apart by the energies of all signals, into `gains`; `sounds` as in Separation. */
  tellApart(separation: Separation, sounds: Uint8Array): void {
    const { at, kernels } = this;
    const { energy } = this;
    for (let b = 0; b < bleedBands; b++)
      for (let k = 0; k < this.sources; k++)
        energy[k * bleedBands + b] = separation.startOf(b, k, this.powers, sounds);
    kernels.tellApart(
      at.powers,
      at.weights,
      at.heard,
      at.down,
      at.own,
      this.observers,
      this.sources,
      bleedBands,
      steps,
      least,
      at.energy,
      at.up,
      at.gains,
    );
  }

  /** Works out the sound of a group, its bands multiplied by `applied`; it is played from the next `swap` on. */
  sound(group: number): void {
    const { at, size, kernels } = this;
    const { spectrum, sum, halves } = this.groups[group]!;
    const next = halves[1 - this.turn]!;
    kernels.lookSound(
      spectrum,
      size,
      at.tables,
      at.applied + 8 * bleedBands * looksAtOnce * group,
      bleedBands,
      at.first,
      at.shares,
      at.work,
      sum,
      next,
    );
  }

  /** Plays what was worked out. */
  swap(): void {
    this.turn = this.turn === 0 ? 1 : 0;
  }
  /** Half a look of a signal, as it is played. */
  playing(signal: number): Float32Array {
    return this.halves[signal]![this.turn];
  }
}
