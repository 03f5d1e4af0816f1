/** The lanes of one mic or bus: `width` lanes from `first` on; a stereo owner begins at an even lane. */
export interface LaneOwner {
  readonly first: number;
  readonly width: number;
}

/** Writes one value into the lanes of an owner. */
export function putRow(values: Float64Array, row: number, owner: LaneOwner, value: number): void {
  for (let lane = owner.first; lane < owner.first + owner.width; lane++) values[4 * row + lane] = value;
}
