import { instantiateKernels, kernelsReserve } from "../kernels/kernels";
import { hann } from "../signal/fft";
import { fftTables } from "../signal/fftTables";

/** Windows of which the kernel works out the spectra at once. */
export const atOnce = 8;
/** The kernel with its tables: `run` reads the windows from `input`, `hop` frames apart, and writes `output`. */
interface BandKernel {
  readonly input: Float32Array;
  readonly output: Float32Array;
  readonly run: () => void;
}
/** By size, hop and edges; kept on this thread. */
const known = new Map<string, BandKernel>();

/** Where the output holds a band of a window: even windows come before odd ones. */
export const placeOf = (band: number, window: number): number =>
  atOnce * band + (window >> 1) + (window & 1) * (atOnce / 2);

/**
 * Sums of squared magnitudes of windowed spectra over bands, four times too large.
 * Shape   size: a power of two; edges: first bin of every band and the last one's end. Errors  as instantiateKernels.
 */
export function bandKernel(size: number, hop: number, edges: readonly number[]): BandKernel {
  const key = [size, hop, ...edges].join();
  const before = known.get(key);
  if (before) return before;
  const bands = edges.length - 1;
  const span = size + (atOnce - 1) * hop;
  const tables = kernelsReserve + 4 * span;
  const work = 16 * Math.ceil((tables + 4 * (3 * size + edges.length)) / 16);
  const out = work + 32 * size;
  const { kernels, buffer } = instantiateKernels(out + 32 * bands);
  const [floats, words] = [new Float32Array(buffer), new Uint32Array(buffer)];
  const at = tables / 4;
  floats.set(hann(size), at);
  const { cos, minusSin, reversed } = fftTables(size);
  floats.set(cos, at + size);
  floats.set(minusSin, at + 1.5 * size);
  reversed.forEach((place, i) => (words[at + 2 * size + i] = 32 * place));
  words.set(edges, at + 3 * size);
  const made = {
    input: floats.subarray(kernelsReserve / 4, kernelsReserve / 4 + span),
    output: floats.subarray(out / 4, out / 4 + atOnce * bands),
    run: () => kernels.bandPowers(kernelsReserve, hop, size, tables, work, bands, out),
  };
  known.set(key, made);
  return made;
}
