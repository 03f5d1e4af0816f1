import { HitCursor } from "../signal/hitCursor";
import { laneCount, laneFrames, type LaneMemory } from "./laneMemory";
import type { LaneOwner } from "./laneOwner";

/** Marks in which frames of a block a hit opens the lanes of its drum, for kernels. */
export class HitMasks {
  private readonly masks: { pointer: number; values: Int32Array };
  private readonly cursors: HitCursor[];
  private dirty = false;

  constructor(
    memory: LaneMemory,
    private readonly owners: readonly LaneOwner[],
  ) {
    this.masks = memory.words(laneCount * laneFrames);
    this.cursors = owners.map(() => new HitCursor());
  }

  /** Pointer to the masks of a block, or 0 when no hit lies in it. `listens` says which owners are opened by hits. */
  mark(
    hits: readonly Float64Array[],
    listens: readonly boolean[],
    positions: Float64Array,
    frames: number,
  ): number {
    if (this.dirty) this.masks.values.fill(0);
    this.dirty = false;
    for (let o = 0; o < this.owners.length; o++) {
      if (!listens[o]) continue;
      const position = positions[o]!;
      // The latest hit before the block's end; earlier ones of the same block are found from it backwards.
      const list = hits[o]!;
      const last = this.cursors[o]!.latestIndex(list, position + frames - 1);
      for (let h = last; h >= 0; h--) {
        const frame = Math.ceil(list[h]!) - position;
        if (frame < 0) break;
        const { first, width } = this.owners[o]!;
        for (let lane = first; lane < first + width; lane++) this.masks.values[laneCount * frame + lane] = -1;
        this.dirty = true;
      }
    }
    return this.dirty ? this.masks.pointer : 0;
  }
}
