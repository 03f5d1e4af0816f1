import type { ReadSource } from "../timeline";
import type { PlacedSound } from "./placeStrokes";

/** Index of the first sound that begins at `at` or later. */
function firstFrom(placed: readonly PlacedSound[], at: number): number {
  let low = 0;
  let high = placed.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (placed[middle]!.at < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Longest of the sounds, by their list: lists do not change. */
const longest = new WeakMap<readonly PlacedSound[], number>();
function longestOf(placed: readonly PlacedSound[]): number {
  let most = longest.get(placed);
  if (most === undefined) longest.set(placed, (most = placed.reduce((n, p) => Math.max(n, p.frames), 0)));
  return most;
}

/**
 * Song frames [from, from + count) of one channel of a layer: its sounds where the strokes are, added up. Between fades and at a gain of
 * 1 a sound comes bit-exact.
 * Shape   placed ascending by `at`; read: the layer's file.
 */
export function readLayer(
  placed: readonly PlacedSound[],
  read: ReadSource,
  from: number,
  count: number,
  out: Float32Array,
  to = 0,
): void {
  out.fill(0, to, to + count);
  const end = from + count;
  for (let i = firstFrom(placed, from - longestOf(placed)); i < placed.length; i++) {
    const { at, from: source, frames, gain, fade } = placed[i]!;
    if (at >= end) break;
    const first = Math.max(from, at);
    const n = Math.min(end, at + frames) - first;
    if (n <= 0) continue;
    const sound = new Float32Array(n);
    read(source + first - at, n, sound, 0);
    const fades = at + frames - fade;
    for (let k = 0; k < n; k++) {
      const left = first + k - fades;
      const level = left <= 0 ? gain : (gain * (fade - left)) / fade;
      out[to + first - from + k]! += level * sound[k]!;
    }
  }
}
