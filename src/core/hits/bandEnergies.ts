import { powerOfTwo } from "../signal/fft";
import { quantile } from "../signal/level";
import { readAhead, stretchOf, type Samples } from "../signal/samples";
import { atOnce, bandKernel, placeOf } from "./bandKernel";

/** Edges of the bands in Hz: below the shells, shells, body, attack, presence, cymbals. */
export const bandEdges = [35, 120, 300, 900, 2500, 6000, 14000] as const;
export const bands = bandEdges.length - 1;

export interface BandEnergies {
  /** Seconds between columns; column t is centred on t * hop. */
  readonly hop: number;
  readonly hopFrames: number;
  readonly columns: number;
  /** Energy [band][column], mean square of the windowed signal in the band. */
  readonly energy: readonly Samples[];
}

/** Energies that lie in memory. */
export interface EnergiesHere extends BandEnergies {
  readonly energy: readonly Float32Array[];
}

/** Energies that may lie elsewhere, brought into memory. */
export const energiesHere = (e: BandEnergies): EnergiesHere => ({
  ...e,
  energy: e.energy.map((x) => x.subarray(0)),
});

/** Energies by signal, or by the channels whose sum they are of. */
export type EnergiesBySignal = Map<Samples | readonly Samples[], BandEnergies>;

/** Energy of a signal in six bands every 2.7 ms, from windows of about 10 ms. Errors  as instantiateKernels. */
export function bandEnergies(x: Samples, sampleRate: number): EnergiesHere {
  const hopFrames = Math.round(0.002667 * sampleRate);
  const size = powerOfTwo(0.0088 * sampleRate);
  const columns = Math.floor(x.length / hopFrames);
  const edges = bandEdges.map((hz) => Math.round((hz * size) / sampleRate));
  for (let b = 1; b < edges.length; b++) edges[b] = Math.max(edges[b]!, edges[b - 1]! + 1);
  const { input, output, run } = bandKernel(size, hopFrames, edges);
  const energy = Array.from({ length: bands }, () => new Float32Array(columns));
  // Twice for the upper half of the spectrum; the kernel's sums are four times too large.
  const scale = 2 / 4 / (size * size * 0.375);
  const signal = readAhead(x);
  for (let t = 0; t < columns; t += atOnce) {
    input.set(stretchOf(signal, t * hopFrames - size / 2, input.length));
    run();
    const last = Math.min(atOnce, columns - t);
    for (let b = 0; b < bands; b++)
      for (let c = 0; c < last; c++) energy[b]![t + c] = scale * output[placeOf(b, c)]!;
  }
  return { hop: hopFrames / sampleRate, hopFrames, columns, energy };
}

/**
 * Energy that comes in around a column: the most between `from` and `to` columns behind it, less `held` times what was there before.
 */
export function incoming(e: Float32Array, column: number, from: number, to: number, held: number): number {
  let before = 0;
  let after = 0;
  for (let t = Math.max(0, column - 6); t < column - 2; t++) before = Math.max(before, e[t] ?? 0);
  for (let t = Math.max(0, column + from); t <= Math.min(e.length - 1, column + to); t++)
    after = Math.max(after, e[t] ?? 0);
  return Math.max(0, after - held * before);
}

/** Every so many columns are enough to tell a mic's usual level. */
const sparse = 5;

/** Quantile of a band's energies over the song, from some of its columns. */
export const usualLevel = (energy: Float32Array, q: number): number =>
  quantile(
    Float64Array.from({ length: Math.ceil(energy.length / sparse) }, (_, i) => energy[i * sparse]!),
    q,
  );
