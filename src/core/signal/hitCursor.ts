import { firstAbove } from "./ascending";

/**
 * Says from which instant on and how long a hit holds something open: walks along the ascending hits of a stream
 * without allocating. A jump of the playhead finds its place again by halving.
 */
export class HitCursor {
  private next = 0;
  private last = -1;

  /** Onset of the latest hit at or before `position`, or -Infinity; frames. */
  latest(hits: Float64Array, position: number): number {
    const index = this.latestIndex(hits, position);
    return index >= 0 ? hits[index]! : -Infinity;
  }
  /** Index of the latest hit at or before `position`, or -1. */
  latestIndex(hits: Float64Array, position: number): number {
    if (this.last > position || this.next > hits.length) this.next = 0;
    if (this.next === 0 && hits.length > 8) this.next = firstAbove(hits, position);
    while (this.next < hits.length && hits[this.next]! <= position) this.next++;
    this.last = position;
    return this.next - 1;
  }
}
