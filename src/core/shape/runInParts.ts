import { blockFrames } from "../engine/engine";
import { lanesOf, LaneChain } from "../engine/laneChain";
import { reductionOf, setHits } from "../engine/lanes";
import { PositionLine } from "../engine/positionLine";
import { laneCount, LaneMemory } from "../lanes/laneMemory";
import type { ProcessorState } from "../song/song";

/** What a processor makes of a whole recording, in the time of what came in. */
export interface RunResult {
  /** Its first channel. */
  readonly after: Float32Array;
  /** Gain reduction of every block of `blockFrames`, dB. */
  readonly reduction: Float32Array;
}

/** A part begins so long before what is taken of it, that what the processor remembers of earlier is gone, s. */
const settleSeconds = 2;
/** Parts are worth their beginnings only where they are longer by far. */
const leastPartSeconds = 8;

/** A stretch that one lane or pair of lanes runs: from `start`, taken from `from` until `to`, frames of the input. */
interface Part {
  readonly start: number;
  readonly from: number;
  readonly to: number;
}

const upToBlock = (frames: number): number => Math.ceil(frames / blockFrames) * blockFrames;

/** The recording as up to `most` stretches of one length. */
function partsOf(frames: number, most: number, sampleRate: number): Part[] {
  const count = Math.max(1, Math.min(most, Math.floor(frames / (leastPartSeconds * sampleRate))));
  const settle = upToBlock(settleSeconds * sampleRate);
  const each = upToBlock(frames / count);
  return Array.from({ length: count }, (_, k) => ({
    start: Math.max(0, k * each - settle),
    from: k * each,
    to: Math.min(frames, (k + 1) * each),
  }));
}

/**
 * Runs one processor over a recording, parts of it side by side in the lanes of one vector: in a quarter of the time where
 * it has one channel, in half of it where it has two.
 * Shape  hits: all strokes, ascending frames of the input.
 */
export function runInParts(
  state: ProcessorState,
  input: readonly Float32Array[],
  sampleRate: number,
  hits: Float64Array,
): RunResult {
  const frames = input[0]!.length;
  const owner = { chain: [state], channels: input.length };
  const parts = partsOf(frames, Math.floor(laneCount / lanesOf(owner)), sampleRate);
  const chain = new LaneChain(
    LaneMemory.for(1),
    parts.map(() => owner),
    sampleRate,
  );
  parts.forEach(({ start }, k) =>
    setHits(
      chain,
      k,
      hits.map((h) => h - start),
    ),
  );
  const positions = new PositionLine(chain.latency);
  const found: RunResult = {
    after: new Float32Array(frames),
    reduction: new Float32Array(Math.ceil(frames / blockFrames)),
  };
  const longest = parts.reduce((most, { start, to }) => Math.max(most, to - start), 0);
  for (let t = 0; t < longest + chain.latency; t += blockFrames) {
    parts.forEach(({ start }, k) => {
      chain.feed(k, silent);
      const from = start + t;
      if (from < frames)
        chain
          .channels(k)
          .forEach((lane, ch) => input[ch] && lane.set(input[ch].subarray(from, from + blockFrames)));
    });
    positions.put(t);
    chain.process(positions, 0);
    parts.forEach((part, k) => take(chain, k, part, part.start + t - chain.latency, found));
  }
  return found;
}

const silent: readonly Float32Array[] = [];

/** Keeps what of a block that came out belongs to the part; `position`: its first frame in the input. */
function take(chain: LaneChain, k: number, { from, to }: Part, position: number, into: RunResult): void {
  const first = Math.max(from, position);
  const end = Math.min(to, position + blockFrames);
  if (end <= first) return;
  into.after.set(chain.channels(k)[0]!.subarray(first - position, end - position), first);
  const block = Math.floor(position / blockFrames);
  if (position >= from) into.reduction[block] = reductionOf(chain, k, 0);
}
