import type { Planar } from "../processor";
import { readAhead, type Samples } from "../signal/samples";
import type { ProcessorState } from "../song/song";
import { blockFrames } from "./engine";
import { widthAfterChain } from "./laneChain";
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
  options: ChainOptions = {},
): Float32Array[] {
  const frames = input[0]!.length;
  const width = widthAfterChain({ chain, channels: input.length });
  const out = Array.from({ length: width }, () => new Float32Array(frames));
  for (const { at, channels } of chainBlocks(chain, input, sampleRate, hits, options))
    channels.forEach((x, ch) => out[ch]!.set(x, at));
  return out;
}

/**
 * The same a block at a time, of a signal that need not lie in memory: frames in order, with the one at which each block begins. A block
 * holds till the next one is asked for. Shape  as for `processChain`.
 */
export function* chainBlocks(
  chain: readonly ProcessorState[],
  input: readonly Samples[],
  sampleRate: number,
  hits = new Float64Array(0),
  { key = null, scalar = false, beats = new Float64Array(0) }: ChainOptions = {},
): Generator<{ readonly at: number; readonly channels: readonly Float32Array[] }> {
  const frames = input[0]!.length;
  const runner = new SoloChain(chain, sampleRate, input.length, { keyChannels: key?.length ?? 0, scalar });
  runner.setHits(hits);
  runner.setBeats(beats);
  const read = input.map(readAhead);
  const block = input.map(() => new Float32Array(blockFrames));
  const keyBlock = key ? key.map(() => new Float32Array(blockFrames)) : null;
  for (let at = 0; at < frames + runner.latency; at += blockFrames) {
    read.forEach((x, ch) => fillBlock(block[ch]!, x, at));
    if (key && keyBlock) key.forEach((x, ch) => fillBlock(keyBlock[ch]!, x, at));
    runner.process(block, at, keyBlock);
    const from = Math.max(0, runner.latency - at);
    const to = Math.min(blockFrames, frames + runner.latency - at);
    if (to > from)
      yield { at: at + from - runner.latency, channels: runner.output.map((y) => y.subarray(from, to)) };
  }
}

function fillBlock(block: Float32Array, x: Samples, at: number): void {
  block.fill(0);
  const end = Math.min(x.length, at + blockFrames);
  if (end > at) block.set(x.subarray(at, end));
}
