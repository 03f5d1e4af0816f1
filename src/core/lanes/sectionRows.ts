import type { Section } from "../signal/biquad";
import { laneCount, type LaneMemory, type Rows } from "./laneMemory";
import type { LaneOwner } from "./laneOwner";

const rowsOfSection = 7;
const flat: Section = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/** Biquad sections of four lanes, each in a place of its own, as the cascade kernel reads them. */
export class SectionRows {
  private readonly rows: Rows;
  private readonly works: boolean[][]; // [lane][place]
  /** Bits of the places in which some lane has a section. */
  used = 0;

  constructor(
    private readonly memory: LaneMemory,
    private readonly owners: readonly LaneOwner[],
    private readonly places: number,
  ) {
    this.rows = memory.rows(rowsOfSection * places);
    this.works = Array.from({ length: laneCount }, () => new Array<boolean>(places).fill(false));
    for (let place = 0; place < places; place++)
      for (let lane = 0; lane < laneCount; lane++) this.put(place, lane, flat);
  }
  private put(place: number, lane: number, { b0, b1, b2, a1, a2 }: Section): void {
    const { values } = this.rows;
    const at = laneCount * rowsOfSection * place + lane;
    values[at] = b0;
    values[at + 4] = b1;
    values[at + 8] = b2;
    values[at + 12] = a1;
    values[at + 16] = a2;
  }
  /** `second`: those of an owner's second lane, where they are others. */
  set(owner: number, sections: readonly (Section | null)[], second = sections): void {
    const { first, width } = this.owners[owner]!;
    for (let place = 0; place < this.places; place++) {
      for (let lane = first; lane < first + width; lane++) {
        const section = (lane === first ? sections : second)[place] ?? null;
        this.put(place, lane, section ?? flat);
        if (section && !this.works[lane]![place]) this.forget(place, lane);
        this.works[lane]![place] = section !== null;
      }
      const some = this.works.some((w) => w[place]);
      this.used = some ? this.used | (1 << place) : this.used & ~(1 << place);
    }
  }
  private forget(place: number, lane: number): void {
    const at = laneCount * (rowsOfSection * place + 5) + lane;
    this.rows.values[at] = 0;
    this.rows.values[at + 4] = 0;
  }
  reset(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++)
      for (let place = 0; place < this.places; place++) this.forget(place, lane);
  }
  /** Takes over what the filters of an owner of others remember. */
  adopt(owner: number, from: SectionRows, fromOwner: number): void {
    const [to, other] = [this.owners[owner]!, from.owners[fromOwner]!];
    for (let place = 0; place < this.places; place++)
      for (let lane = 0; lane < Math.min(to.width, other.width); lane++)
        for (const row of [5, 6]) {
          const at = laneCount * (rowsOfSection * place + row);
          this.rows.values[at + to.first + lane] = from.rows.values[at + other.first + lane]!;
        }
  }
  process(x: number, frames: number): void {
    if (this.used !== 0) this.memory.kernels.cascade(this.rows.pointer, this.used, x, frames);
  }
}
