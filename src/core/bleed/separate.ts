import { dbToPower } from "../signal/level";
import { isShell, type HeardDrums, type Mic, type Piece } from "../song/song";
import { bleedBands, bleedEdges } from "../signal/bleedBands";
import { anchorOf, observes } from "./observers";

/** Steps towards the energies of the drums. */
export const steps = 8;
/** Share of what its mic hears that a shell may have of itself where none of its strokes sounds. */
const restingShare = 1e-4;
/** Cymbals do not sound below, Hz. */
const lowestCymbal = 300;
/** Added to what the drums are said to give, so that nothing is divided by nothing. */
export const least = 1e-20;

/** One channel by which the drums are told apart. */
export interface Observer {
  /** Indices into the song's mics and the mic's channels. */
  readonly mic: number;
  readonly channel: number;
  /** Its own drum among `sources`; -1: an overhead. */
  readonly own: number;
}

/**
 * Tells how much of what every mic hears is its own drum. The energies of the drums are sought that, heard by all mics as
 * they were measured to hear them, explain best what the mics hear now; each drum's share of a mic's energy is its gain.
 * Source  multichannel soft masks from energies: Prätzlich, Bittner, Liutkus, Müller, "Kernel additive modeling for
 *         interference reduction in multi-channel music recordings", ICASSP 2015; multiplicative steps with fixed
 *         mixing: Lee and Seung, NIPS 2000 (Kullback-Leibler divergence, each channel weighted by its usual level), their
 *         ratio to the power of 1.5 for speed.
 * Looks works the same out by kernels; `gains` is what they are held against.
 */
export class Separation {
  readonly sources: readonly Piece[];
  readonly observers: readonly Observer[];
  /** Shells sound only after their strokes; cymbals always may. */
  readonly shells: readonly boolean[];
  private readonly anchors: Int32Array;
  /** Energies heard, [band][observer][source], and weights [band][observer]. */
  readonly heard: Float64Array;
  readonly weights: Float64Array;
  private readonly energy: Float64Array;
  /** What an energy of one gives all observers, weighted, [band][source]. */
  readonly down: Float64Array;
  private readonly firstCymbalBand: number;

  /** Shape   bleed: by mic id, as measureBleed gives it. */
  constructor(mics: readonly Mic[], bleed: Readonly<Record<string, readonly HeardDrums[]>>) {
    const heardBy = (m: number) => (observes(mics[m]!) ? (bleed[mics[m]!.id] ?? []) : []);
    const known = new Set(mics.flatMap((_, m) => heardBy(m).flatMap((h) => Object.keys(h.drums) as Piece[])));
    this.sources = [...known].filter((p) => anchorOf(mics, p) !== null);
    this.observers = mics.flatMap((mic, m) =>
      heardBy(m).flatMap((_, channel) =>
        channel < mic.channels ? [{ mic: m, channel, own: this.sources.indexOf(mic.piece) }] : [],
      ),
    );
    this.shells = this.sources.map(isShell);
    this.anchors = Int32Array.from(this.sources, (p) => {
      const anchor = anchorOf(mics, p)!;
      return this.observers.findIndex((o) => o.mic === anchor.mic && o.channel === anchor.channel);
    });
    const [M, K] = [this.observers.length, this.sources.length];
    this.heard = new Float64Array(bleedBands * M * K);
    this.weights = new Float64Array(bleedBands * M);
    this.energy = new Float64Array(K);
    this.down = new Float64Array(bleedBands * K);
    this.observers.forEach(({ mic, channel }, m) => {
      const { usualDb, drums } = heardBy(mic)[channel]!;
      for (let b = 0; b < bleedBands; b++) {
        const weight = 1 / (dbToPower(usualDb[b]!) + least);
        this.weights[b * M + m] = weight;
        this.sources.forEach((p, k) => {
          const gain = dbToPower(drums[p]?.[b] ?? -90);
          this.heard[(b * M + m) * K + k] = gain;
          this.down[b * K + k]! += weight * gain;
        });
      }
    });
    this.firstCymbalBand = bleedEdges.findIndex((hz) => hz >= lowestCymbal);
  }

  /** True when there is something to tell apart. */
  get usable(): boolean {
    return this.sources.length > 1 && this.anchors.every((a) => a >= 0);
  }

  /** Energy from which that of a source is sought in a band: what its own mic hears, as far as it can sound at all. */
  startOf(b: number, k: number, powers: readonly Float64Array[], sounds: Uint8Array): number {
    const share = this.shells[k] ? (sounds[k] ? 1 : restingShare) : b < this.firstCymbalBand ? 0 : 1;
    return share * powers[this.anchors[k]!]![b]!;
  }

  /**
   * Gains of one look into `gains`. Allocates nothing.
   * Shape   powers and gains: per observer, [band]; sounds: per source, 1 where a shell's stroke sounds. Gains 0..1, power.
   */
  gains(powers: readonly Float64Array[], sounds: Uint8Array, gains: readonly Float64Array[]): void {
    for (let b = 0; b < bleedBands; b++) this.band(b, powers, sounds, gains);
  }

  private band(
    b: number,
    powers: readonly Float64Array[],
    sounds: Uint8Array,
    gains: readonly Float64Array[],
  ): void {
    const { heard, weights, energy, down } = this;
    const M = this.observers.length;
    const K = energy.length;
    for (let k = 0; k < K; k++) energy[k] = this.startOf(b, k, powers, sounds);
    const up = this.up;
    for (let step = 0; step < steps; step++) {
      up.fill(0);
      for (let m = 0; m < M; m++) {
        const row = (b * M + m) * K;
        let sum = least;
        for (let k = 0; k < K; k++) sum += heard[row + k]! * energy[k]!;
        const ratio = (weights[b * M + m]! * powers[m]![b]!) / sum;
        for (let k = 0; k < K; k++) up[k]! += heard[row + k]! * ratio;
      }
      for (let k = 0; k < K; k++) {
        const ratio = up[k]! / down[b * K + k]!;
        energy[k]! *= ratio * Math.sqrt(ratio);
      }
    }
    for (let m = 0; m < M; m++) {
      const { own } = this.observers[m]!;
      const row = (b * M + m) * K;
      let sum = least;
      for (let k = 0; k < K; k++) sum += heard[row + k]! * energy[k]!;
      gains[m]![b] = own < 0 ? 1 : (heard[row + own]! * energy[own]!) / sum;
    }
  }
  private readonly up = new Float64Array(32);
}
