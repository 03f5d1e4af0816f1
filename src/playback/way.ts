import { blockFrames } from "../core/engine/engine";
import type { Stretch } from "./messages";

/**
 * The way of the playhead through the song: straight on, or through stretches one after another, once or again and
 * again. Stretches are brought to whole blocks, so that a block never spans a seam.
 */
export class Way {
  private readonly stretches: readonly Stretch[];
  private at = 0;

  constructor(
    public position: number,
    stretches: readonly Stretch[] | null,
    private readonly again: boolean,
  ) {
    this.stretches = (stretches ?? []).map(({ from, to }) => {
      const blocks = Math.max(1, Math.round((to - from) / blockFrames));
      return { from, to: from + blocks * blockFrames };
    });
    const [first] = this.stretches;
    if (!first) return;
    const inside = this.stretches.findIndex((s) => position >= s.from && position < s.to);
    const loop = again && this.stretches.length === 1;
    const ahead = loop && position < first.from; // runs into the loop
    if (inside < 0 && !ahead) {
      // Behind a loop the song plays on; what is played once, or one after another, begins with the first.
      if (loop) this.at = 1;
      else this.position = first.from;
      return;
    }
    this.at = Math.max(0, inside);
    const { to } = this.stretches[this.at]!;
    this.position = to - Math.ceil((to - position) / blockFrames) * blockFrames;
  }

  private get stretch(): Stretch | undefined {
    return this.stretches[this.at];
  }
  /** Where the way goes on behind the seam of the current stretch; null: no seam ahead. */
  private get beyond(): number | null {
    if (!this.stretch) return null;
    const next = this.stretches[this.at + 1] ?? (this.again ? this.stretches[0] : undefined);
    return next?.from ?? null;
  }
  /** Blocks up to the next seam, at most `most`. */
  blocksAhead(most: number): number {
    return this.stretch ? Math.min(most, (this.stretch.to - this.position) / blockFrames) : most;
  }
  /** Where the block at `position` fades over to: the frames that lead to the next stretch; null within a stretch. */
  leadOf(position: number): number | null {
    const { stretch, beyond } = this;
    return stretch && beyond !== null && position + blockFrames === stretch.to ? beyond - blockFrames : null;
  }
  /** Goes on by blocks that do not pass a seam. */
  advance(blocks: number): void {
    this.position += blocks * blockFrames;
    if (!this.stretch || this.position < this.stretch.to) return;
    const { beyond } = this;
    if (beyond === null) {
      this.at = this.stretches.length;
      return;
    }
    this.position = beyond;
    this.at = this.at + 1 < this.stretches.length ? this.at + 1 : 0;
  }
  /** True when stretches are played once and all of them are over. */
  get over(): boolean {
    return !this.again && this.stretches.length > 0 && this.at >= this.stretches.length;
  }
}
