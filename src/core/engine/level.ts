import { dbToGain } from "../signal/level";
import type { Bus, Mic } from "../song/song";
import { Fader } from "./fader";
import { MoveLine } from "./moveLine";

/** A level that may differ by section and move over the song. */
export class Level {
  readonly fader = new Fader(0);
  private level = 0;
  private bySection: Readonly<Record<string, number>> | undefined;
  private open = true;
  private section: string | null = null;
  private line: MoveLine | null = null;
  private frame = 0;
  /** Beside the level, to match the loudness of two sides. */
  match = 1;

  set({ level, levelBySection, levelMoves }: Mic | Bus, open: boolean, sampleRate: number): void {
    this.level = level;
    this.bySection = levelBySection;
    this.open = open;
    if (!levelMoves || levelMoves.length === 0) this.line = null;
    else if (this.line?.moves !== levelMoves) this.line = new MoveLine(levelMoves, sampleRate);
    this.apply();
  }
  /** True when it moves over the song. */
  get moves(): boolean {
    return this.line !== null;
  }
  moveTo(section: string | null): void {
    if (section === this.section) return;
    this.section = section;
    if (this.bySection) this.apply();
  }
  /** Goes to where the fader is to be at a song frame. */
  place(frame: number): void {
    this.frame = frame;
    if (this.line) this.apply();
  }
  get gain(): number {
    const own = this.section === null ? undefined : this.bySection?.[this.section];
    return this.match * dbToGain((own ?? this.level) + (this.line?.at(this.frame) ?? 0));
  }
  setMatch(gain: number): void {
    this.match = gain;
    this.apply();
  }
  private apply(): void {
    this.fader.set(this.open ? this.gain : 0);
  }
}
