import { blockFrames, Engine } from "../engine/engine";
import { stereoBlock } from "../engine/fader";
import type { Planar } from "../processor";
import type { Song } from "../song/song";
import { sameStructure } from "../song/structure";

/** Steps of building in one block: the audio thread plays meanwhile. */
const stepsPerBlock = 4;
/** Frames beyond its latency that a new engine runs unheard, so that filters and detectors have settled. */
const settleFrames = 128;
/** Frames over which it fades in. */
const fadeFrames = 512;

/**
 * The engine of a song whose structure has changed while the old one plays: built bit by bit beside it, filled in silence,
 * then faded to. What is the same in both, the mics that nothing was done to and the stage before them, runs once and goes on
 * without a gap.
 */
export class Succession {
  private readonly building: Generator<void, Engine>;
  private engine: Engine | null = null;
  private toFill = 0;
  private filled = false;
  private begun = false;
  private faded = 0;
  private readonly out = stereoBlock(blockFrames);
  private readonly besideOut = stereoBlock(blockFrames);

  constructor(
    private song: Song,
    /** Null: nothing plays, and nothing is taken over. */
    private readonly old: Engine | null,
  ) {
    this.building = Engine.build(song, old);
  }
  /** True when it is meant for songs like this one. */
  fits(song: Song): boolean {
    return sameStructure(this.song, song);
  }
  update(song: Song): void {
    this.song = song;
    this.engine?.update(song);
  }
  /** It is faded to: what is heard is in `output`. */
  get ready(): boolean {
    return this.filled;
  }
  /** The new engine is there, filled or not. */
  get built(): boolean {
    return this.engine !== null;
  }
  get done(): boolean {
    return this.faded >= fadeFrames;
  }
  /** What is heard, once it is ready. */
  get output(): Planar {
    return this.out;
  }
  get context(): Planar {
    return this.besideOut;
  }
  /** The new engine and its song, on its own feet. */
  take(): { engine: Engine; song: Song } {
    this.engine!.takeOver();
    return { engine: this.engine!, song: this.song };
  }
  /** Builds on; true when the engine is there. */
  build(): boolean {
    for (let n = 0; n < stepsPerBlock && !this.engine; n++) {
      const { done, value } = this.building.next();
      if (!done) continue;
      value.update(this.song);
      value.reset();
      this.engine = value;
      this.toFill = value.latency - value.filled + settleFrames;
    }
    return this.engine !== null;
  }

  /** One block, after the old engine's. `open`: the fade may begin. */
  process(inputs: readonly Planar[], position: number, open: boolean): void {
    if (!this.build()) return;
    const engine = this.engine!;
    if (!this.begun) {
      this.begun = true;
      // It goes on after the block that the old one has just played, with what that one remembers: what a processor gives now
      // waits in the lines behind it and is heard when the fade has begun.
      if (this.old) return engine.adopt(this.old, { lines: true });
    }
    engine.process(inputs, position);
    if (this.toFill > 0) {
      this.toFill -= blockFrames;
      // Once more, now that what stands before them is filled: what rings and is turned down goes on where the old one has it.
      if (this.toFill <= 0 && this.old) engine.adopt(this.old, { lines: false });
      return;
    }
    if (!this.old) return;
    this.filled = true;
    const from = open ? this.faded : 0;
    fade(this.old.mixer.output, engine.mixer.output, this.out, from, open);
    fade(this.old.mixer.contextOutput, engine.mixer.contextOutput, this.besideOut, from, open);
    if (open) this.faded += blockFrames;
  }
}

/** From a to b into y: equal gain, since both are nearly the same. */
function fade(a: Planar, b: Planar, y: readonly Float32Array[], from: number, open: boolean): void {
  for (let ch = 0; ch < y.length; ch++)
    for (let i = 0; i < blockFrames; i++) {
      const share = open ? Math.min(1, (from + i + 1) / fadeFrames) : 0;
      y[ch]![i] = a[ch]![i]! + share * (b[ch]![i]! - a[ch]![i]!);
    }
}
