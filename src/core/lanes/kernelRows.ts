import { clearLane, laneCount, type LaneMemory, type Rows } from "./laneMemory";
import { putRow, type LaneOwner } from "./laneOwner";

/** Parameters and state of one kernel over four lanes, a row a value. */
export class KernelRows {
  readonly params: Rows;
  readonly state: Rows;
  constructor(
    memory: LaneMemory,
    private readonly owners: readonly LaneOwner[],
    rows: { readonly params: number; readonly state: number },
  ) {
    this.params = memory.rows(rows.params);
    this.state = memory.rows(rows.state);
  }
  /** Writes parameters into the lanes of an owner, by row (`rows.ts` of the processor). */
  set(owner: number, values: Readonly<Record<number, number>>): void {
    for (const row in values) putRow(this.params.values, Number(row), this.owners[owner]!, values[row]!);
  }
  /** Zeroes the state of an owner. */
  clear(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.state.values, lane);
  }
  /** Takes over the state of an owner of others. */
  adopt(owner: number, from: KernelRows, fromOwner: number): void {
    const [to, other] = [this.owners[owner]!, from.owners[fromOwner]!];
    for (let row = 0; row < this.state.values.length / laneCount; row++)
      for (let lane = 0; lane < Math.min(to.width, other.width); lane++)
        this.state.values[laneCount * row + to.first + lane] =
          from.state.values[laneCount * row + other.first + lane]!;
  }
  put(owner: number, row: number, value: number): void {
    putRow(this.state.values, row, this.owners[owner]!, value);
  }
  /** A row of the state as an owner's first lane has it. */
  read(owner: number, row: number): number {
    return this.state.values[laneCount * row + this.owners[owner]!.first]!;
  }
}
