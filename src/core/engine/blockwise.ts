import { laneFrames } from "../lanes/laneMemory";

/**
 * Takes a stretch block by block through something that answers late, and gives its answer in the time of the stretch.
 * Shape   stretch [source][channel], all equally long; `step` gets blocks of `laneFrames` frames of it, silence behind its end,
 *         and the place of the first frame; its answer [output][channel] is copied. Result [output][channel], as long as the stretch.
 */
export function blockwise(
  stretch: readonly (readonly Float32Array[])[],
  latency: number,
  step: (block: readonly (readonly Float32Array[])[], at: number) => readonly (readonly Float32Array[])[],
): Float32Array[][] {
  const frames = stretch[0]?.[0]?.length ?? 0;
  const block = stretch.map((channels) => channels.map(() => new Float32Array(laneFrames)));
  let out: Float32Array[][] = [];
  for (let at = 0; at < frames + latency; at += laneFrames) {
    stretch.forEach((channels, s) =>
      channels.forEach((x, ch) => {
        const b = block[s]![ch]!;
        b.fill(0);
        if (at < frames) b.set(x.subarray(at, Math.min(frames, at + laneFrames)));
      }),
    );
    const answer = step(block, at);
    if (at === 0) out = answer.map((channels) => channels.map(() => new Float32Array(frames)));
    const skip = Math.max(0, latency - at);
    const count = Math.min(laneFrames, frames + latency - at);
    if (count <= skip) continue;
    answer.forEach((channels, o) =>
      channels.forEach((y, ch) => out[o]![ch]!.set(y.subarray(skip, count), at + skip - latency)),
    );
  }
  return out;
}
