import { kernelBytes } from "./bytes";

/** The kernels as WebAssembly exports them: pointers are bytes, frames a multiple of 8 and at most 128. */
export interface Kernels {
  interleave(a: number, b: number, c: number, d: number, x: number, frames: number): void;
  deinterleave(x: number, a: number, b: number, c: number, d: number, frames: number): void;
  addStereo(x: number, y: number, from: number, to: number, frames: number): void;
  spread(x: number, params: number, out: number, peaks: number, frames: number): void;
  hold(ring: number, length: number, at: number, x: number, y: number, frames: number): number;
  glideGain(x: number, params: number, frames: number): void;
  fade(x: number, dry: number, params: number, frames: number): void;
  unfinite(x: number, frames: number): number;
  record(ring: number, size: number, margin: number, at: number, x: number, frames: number): void;
  copyFloats(x: number, y: number, frames: number): void;
  convolve(taps: number, count: number, x: number, y: number, frames: number): void;
  cascade(sections: number, used: number, x: number, frames: number): void;
  gate(params: number, state: number, wait: number, at: number, detector: number, struck: number, dry: number, x: number, frames: number): void;
  dynamicBand(params: number, state: number, detector: number, struck: number, x: number, frames: number): void;
  compressor(params: number, state: number, rms: number, detector: number, x: number, frames: number): void;
  saturation(params: number, state: number, taps: number, scratch: number, characters: number, dry: number, x: number, frames: number): void;
  bandPowers(x: number, hop: number, size: number, tables: number, work: number, bands: number, out: number): void;
  explain(problem: number, rows: number, prints: number, sources: number, state: number, steps: number, largest: number): void;
  readonly saturationState: { readonly value: number };
  readonly saturationScratch: { readonly value: number };
} // prettier-ignore

/** The little of WebAssembly that is needed; core has no types of browsers or Node. */
interface WasmMemory {
  readonly buffer: ArrayBuffer;
}
interface Wasm {
  validate(bytes: Uint8Array): boolean;
  readonly Module: new (bytes: Uint8Array) => object;
  readonly Memory: new (size: { initial: number }) => WasmMemory;
  readonly Instance: new (module: object, imports: object) => { readonly exports: Kernels };
}
const wasm = (globalThis as unknown as { WebAssembly?: Wasm }).WebAssembly;

let compiledOnce: object | undefined;

/** Compiles the kernels once. */
function compiled(): object {
  if (!wasm?.validate(kernelBytes))
    throw new Error("this browser or Node.js has no WebAssembly with vector instructions; a newer one has");
  return (compiledOnce ??= new wasm.Module(kernelBytes));
}

const pageBytes = 65536;

/** Bytes at the beginning of a memory in which the kernels keep data of their own. */
export const kernelsReserve = pageBytes;

/**
 * An instance of the kernels with a memory of its own, which never grows.
 * Errors  Error where WebAssembly lacks vectors; every browser that can share memory with a worklet has them.
 */
export function instantiateKernels(bytes: number): { kernels: Kernels; buffer: ArrayBuffer } {
  const code = compiled();
  const memory = new wasm!.Memory({ initial: Math.ceil(bytes / pageBytes) });
  const abort = (): never => {
    throw new RangeError("a kernel stopped"); // only reachable by a defect; the import is asked for by the compiler
  };
  const { exports } = new wasm!.Instance(code, { env: { memory, abort } });
  return { kernels: exports, buffer: memory.buffer };
}
