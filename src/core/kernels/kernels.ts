import { kernelBytes } from "./bytes";
import type { Kernels } from "./exports";

export type { Kernels } from "./exports";

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
