import type { LevelMove } from "../song/song";

/** The way of a fader over the song, asked from frame to frame as a song runs; allocates only when made. */
export class MoveLine {
  private readonly frames: Float64Array;
  private readonly levels: Float64Array;
  /** The last point that was passed, where it was asked last. */
  private place = -1;

  /** Shape  moves ascending by time, at least one. */
  constructor(
    readonly moves: readonly LevelMove[],
    sampleRate: number,
  ) {
    this.frames = Float64Array.from(moves, (m) => m.time * sampleRate);
    this.levels = Float64Array.from(moves, (m) => m.db);
  }
  /** As `movedBy`, dB at a song frame. */
  at(frame: number): number {
    const { frames, levels } = this;
    const last = frames.length - 1;
    if (this.place >= 0 && frame < frames[this.place]!) this.place = -1;
    while (this.place < last && frames[this.place + 1]! <= frame) this.place++;
    const { place } = this;
    if (place < 0) return levels[0]!;
    if (place === last) return levels[last]!;
    const share = (frame - frames[place]!) / (frames[place + 1]! - frames[place]!);
    return levels[place]! + share * (levels[place + 1]! - levels[place]!);
  }
}
