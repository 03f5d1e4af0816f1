import { dbToGain } from "../signal/level";
import { Fader } from "./fader";

/** A level that may differ by section. */
export class Level {
  readonly fader = new Fader(0);
  private level = 0;
  private bySection: Readonly<Record<string, number>> | undefined;
  private open = true;
  private section: string | null = null;
  /** Beside the level, to match the loudness of two sides. */
  match = 1;

  set(level: number, bySection: Readonly<Record<string, number>> | undefined, open: boolean): void {
    this.level = level;
    this.bySection = bySection;
    this.open = open;
    this.apply();
  }
  moveTo(section: string | null): void {
    if (section === this.section) return;
    this.section = section;
    if (this.bySection) this.apply();
  }
  get gain(): number {
    const own = this.section === null ? undefined : this.bySection?.[this.section];
    return this.match * dbToGain(own ?? this.level);
  }
  setMatch(gain: number): void {
    this.match = gain;
    this.apply();
  }
  private apply(): void {
    this.fader.set(this.open ? this.gain : 0);
  }
}
