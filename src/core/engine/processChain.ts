import type { Planar } from "../processor";
import type { ProcessorState } from "../song/song";
import { blockFrames } from "./engine";
import { SoloChain } from "./soloChain";

export interface ChainOptions {
  /** What detectors with a key hear. */
  readonly key?: Planar | null;
  /** Leaves the kernels out and runs the reference processors. */
  readonly scalar?: boolean;
  /** Beats in frames, ascending. */
  readonly beats?: Float64Array;
}

/**
 * Runs one chain over a whole signal, latency taken off; same length as the input.
 * Shape   one or two channels; two come out when the chain holds a pan or a room. hits in frames, ascending.
 */
export function processChain(
  chain: readonly ProcessorState[],
  input: Planar,
  sampleRate: number,
  hits = new Float64Array(0),
  { key = null, scalar = false, beats = new Float64Array(0) }: ChainOptions = {},
): Float32Array[] {
  const frames = input[0]!.length;
  const runner = new SoloChain(chain, sampleRate, input.length, { keyChannels: key?.length ?? 0, scalar });
  runner.setHits(hits);
  runner.setBeats(beats);
  const out = runner.output.map(() => new Float32Array(frames));
  const block = input.map(() => new Float32Array(blockFrames));
  const keyBlock = key ? key.map(() => new Float32Array(blockFrames)) : null;
  for (let at = 0; at < frames + runner.latency; at += blockFrames) {
    input.forEach((x, ch) => fillBlock(block[ch]!, x, at));
    if (key && keyBlock) key.forEach((x, ch) => fillBlock(keyBlock[ch]!, x, at));
    runner.process(block, at, keyBlock);
    out.forEach((y, ch) => {
      const from = Math.max(0, runner.latency - at);
      const to = Math.min(blockFrames, frames + runner.latency - at);
      if (to > from) y.set(runner.output[ch]!.subarray(from, to), at + from - runner.latency);
    });
  }
  return out;
}

function fillBlock(block: Float32Array, x: Float32Array, at: number): void {
  block.fill(0);
  const end = Math.min(x.length, at + blockFrames);
  if (end > at) block.set(x.subarray(at, end));
}
