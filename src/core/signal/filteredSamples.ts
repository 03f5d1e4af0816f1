import { cascadeOf, filteredOn, type Cascade, type Section } from "./biquad";
import { pieceFrames, type Samples } from "./samples";

interface Piece {
  readonly at: number;
  readonly end: number;
  readonly piece: Float32Array;
}

/**
 * A signal behind a filter, worked out as far as it is asked for and to the same bits as the whole at once. Little of it is kept:
 * it is for readers that go forwards; whoever goes back by more than a piece has it begin anew.
 */
export class FilteredSamples implements Samples {
  readonly length: number;
  private cascade: Cascade;
  private kept: Piece[] = [];

  constructor(
    private readonly x: Samples,
    private readonly sections: readonly Section[],
  ) {
    this.length = x.length;
    this.cascade = cascadeOf(sections);
  }

  subarray(from: number, to = this.length): Float32Array {
    const end = Math.min(this.length, to);
    if (from >= end) return new Float32Array(0);
    if (from < (this.kept[0]?.at ?? 0)) {
      this.cascade = cascadeOf(this.sections);
      this.kept = [];
    }
    while ((this.kept.at(-1)?.end ?? 0) < end) this.next(from);
    const asked = this.kept.filter((p) => p.end > from && p.at < end);
    const [one] = asked;
    if (asked.length === 1) return one!.piece.subarray(from - one!.at, end - one!.at);
    const joined = new Float32Array(end - from);
    for (const p of asked)
      joined.set(
        p.piece.subarray(Math.max(0, from - p.at), Math.min(p.end, end) - p.at),
        Math.max(0, p.at - from),
      );
    return joined;
  }

  /** Filters a piece more; what lies before `from` is kept for one piece. */
  private next(from: number): void {
    const at = this.kept.at(-1)?.end ?? 0;
    const end = Math.min(this.length, at + pieceFrames);
    this.kept.push({ at, end, piece: filteredOn(this.cascade, this.x.subarray(at, end)) });
    while (this.kept.length > 2 && this.kept[0]!.end <= from) this.kept.shift();
  }
}
