import { laneFrames } from "../lanes/laneMemory";

/**
 * Where in the song the audio lies that comes out of a delay. Positions of the blocks that went in are kept, so that
 * what runs behind a latency knows its place in the song also around the seam of a loop. Begins as after a jump to frame 0. Allocates only
 * when made.
 */
export class PositionLine {
  private readonly starts: Float64Array;
  private last = 0;

  /** `latest`: the longest delay that will be asked for, frames. */
  constructor(latest: number) {
    this.starts = new Float64Array(Math.ceil(latest / laneFrames) + 1);
  }

  /** After a jump: what comes out until the delays are filled belongs to no place and counts as `position`. */
  reset(position: number): void {
    this.starts.fill(position);
  }
  /** Goes on where another line stands; what lies before its reach is taken to have been played straight on. */
  adopt(other: PositionLine): void {
    const { length } = this.starts;
    const { starts: theirs, last } = other;
    for (let back = 0; back < length; back++) {
      const known = Math.min(back, theirs.length - 1);
      this.starts[(this.last - back + length) % length] =
        theirs[(last - known + theirs.length) % theirs.length]! - (back - known) * laneFrames;
    }
  }
  /** Notes the song frame of the first frame of the next block that goes in. */
  put(position: number): void {
    this.last = (this.last + 1) % this.starts.length;
    this.starts[this.last] = position;
  }
  /**
   * Song frame of the first frame that comes out of a delay of `late` frames while the last block goes in. Where that
   * frame lies within a block, a seam that follows in the same block is not seen until the next.
   */
  at(late: number): number {
    const { length } = this.starts;
    const blocks = Math.min(length - 1, Math.ceil(late / laneFrames));
    return this.starts[(this.last - blocks + length) % length]! + blocks * laneFrames - late;
  }
}
