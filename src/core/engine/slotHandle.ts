import type { ParamTable, ParamValue } from "../params";
import type { ProcessorState } from "../song/song";
import { SectionMap, variedNames } from "./sectionValues";
import { ValueGlide } from "./valueGlide";

/**
 * One processor of one mic or bus as it runs: its values, which glide and may differ by section, and its switch, which
 * fades. The audio itself is computed four owners at a time (LaneSlot).
 */
export class SlotHandle {
  readonly id: string;
  readonly glide: ValueGlide;
  /** Share of the processed side now; 1 is on. */
  share: number;
  failed = false;
  private state: ProcessorState;
  private wanted: boolean;
  private sections = new SectionMap([], 1);
  private varied: readonly string[] = [];
  private section: string | null = null;

  constructor(state: ProcessorState, table: ParamTable) {
    this.id = state.id;
    this.state = state;
    this.glide = new ValueGlide(table, state.params);
    this.wanted = state.on;
    this.share = state.on ? 1 : 0;
  }

  /** Mic whose sound is its impulse response. */
  get response(): string | null {
    return this.state.response ?? null;
  }
  /** Where its share goes. */
  get goal(): number {
    return this.wanted && !this.failed ? 1 : 0;
  }

  /** Takes new values and sections; same processor. */
  take(state: ProcessorState, sections: SectionMap): void {
    if (state === this.state && sections === this.sections) return;
    this.state = state;
    this.sections = sections;
    this.wanted = state.on;
    this.varied = variedNames(state.bySection);
    this.wantAll();
  }
  private wantAll(): void {
    const own = this.section === null ? undefined : this.state.bySection?.[this.section];
    for (const [name, value] of Object.entries(this.state.params))
      this.glide.want(name, own?.[name] ?? value);
  }
  /** Tells where in the song the input lies, so that values of a section take hold there. */
  moveTo(frame: number): void {
    if (this.varied.length === 0) return;
    const section = this.sections.at(frame);
    if (section === this.section) return;
    this.section = section;
    const own = section === null ? undefined : this.state.bySection?.[section];
    for (const name of this.varied)
      this.glide.want(name, own?.[name] ?? (this.state.params[name] as ParamValue));
  }
}
