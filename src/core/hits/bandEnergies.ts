import { instantiateKernels, kernelsReserve } from "../kernels/kernels";
import { quantile } from "../signal/level";
import { hann, powerOfTwo } from "../signal/fft";

/** Edges of the bands in Hz: below the shells, shells, body, attack, presence, cymbals. */
export const bandEdges = [35, 120, 300, 900, 2500, 6000, 14000] as const;
export const bands = bandEdges.length - 1;

export interface BandEnergies {
  /** Seconds between columns; column t is centred on t * hop. */
  hop: number;
  hopFrames: number;
  columns: number;
  /** Energy [band][column], mean square of the windowed signal in the band. */
  energy: Float32Array[];
}

/** Columns that the kernel works out at once. */
const atOnce = 8;
/** The kernel with its tables for one size and hop, kept on this thread. */
interface Desk {
  readonly input: Float32Array;
  readonly output: Float32Array;
  readonly run: () => void;
}
const desks = new Map<string, Desk>();

function deskFor(size: number, hop: number, edges: readonly number[]): Desk {
  const key = [size, hop, ...edges].join();
  const known = desks.get(key);
  if (known) return known;
  const span = size + (atOnce - 1) * hop;
  const tables = kernelsReserve + 4 * span;
  const work = 16 * Math.ceil((tables + 4 * (3 * size + edges.length)) / 16);
  const out = work + 32 * size;
  const { kernels, buffer } = instantiateKernels(out + 32 * bands);
  const [floats, words] = [new Float32Array(buffer), new Uint32Array(buffer)];
  const at = tables / 4;
  floats.set(hann(size), at);
  const bits = Math.log2(size);
  for (let k = 0; k < size / 2; k++) {
    floats[at + size + k] = Math.cos((2 * Math.PI * k) / size);
    floats[at + 1.5 * size + k] = -Math.sin((2 * Math.PI * k) / size);
  }
  for (let i = 0; i < size; i++) {
    let place = 0;
    for (let b = 0; b < bits; b++) if (i & (1 << b)) place |= 1 << (bits - 1 - b);
    words[at + 2 * size + i] = 32 * place;
  }
  words.set(edges, at + 3 * size);
  const desk = {
    input: floats.subarray(kernelsReserve / 4, kernelsReserve / 4 + span),
    output: floats.subarray(out / 4, out / 4 + atOnce * bands),
    run: () => kernels.bandPowers(kernelsReserve, hop, size, tables, work, bands, out),
  };
  desks.set(key, desk);
  return desk;
}

/** Energy of a signal in six bands every 2.7 ms, from windows of about 10 ms. Errors  as instantiateKernels. */
export function bandEnergies(x: Float32Array, sampleRate: number): BandEnergies {
  const hopFrames = Math.round(0.002667 * sampleRate);
  const size = powerOfTwo(0.0088 * sampleRate);
  const columns = Math.floor(x.length / hopFrames);
  const edges = bandEdges.map((hz) => Math.round((hz * size) / sampleRate));
  for (let b = 1; b < edges.length; b++) edges[b] = Math.max(edges[b]!, edges[b - 1]! + 1);
  const { input, output, run } = deskFor(size, hopFrames, edges);
  const energy = Array.from({ length: bands }, () => new Float32Array(columns));
  // Twice for the upper half of the spectrum; the kernel's sums are four times too large.
  const scale = 2 / 4 / (size * size * 0.375);
  for (let t = 0; t < columns; t += atOnce) {
    const from = t * hopFrames - size / 2;
    if (from >= 0 && from + input.length <= x.length) input.set(x.subarray(from, from + input.length));
    else for (let i = 0; i < input.length; i++) input[i] = x[from + i] ?? 0;
    run();
    const last = Math.min(atOnce, columns - t);
    for (let b = 0; b < bands; b++)
      for (let c = 0; c < last; c++)
        energy[b]![t + c] = scale * output[atOnce * b + (c >> 1) + (c & 1) * (atOnce / 2)]!;
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
