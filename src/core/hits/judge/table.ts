/** Rows of numbers of one width, in memory that threads share: handing it to one copies nothing. */
export interface Table {
  readonly width: number;
  /** One row after another. */
  readonly values: Float64Array;
}

/** Zeros. */
export const newTable = (rows: number, width: number): Table => ({
  width,
  values: new Float64Array(new SharedArrayBuffer(8 * rows * width)),
});

/** A view of one row. */
export const rowAt = ({ width, values }: Table, row: number): Float64Array =>
  values.subarray(row * width, (row + 1) * width);

/** Copies of some rows, in the order they are asked for. */
export function rowsOf(table: Table, rows: readonly number[]): Table {
  const chosen = newTable(rows.length, table.width);
  rows.forEach((row, n) => rowAt(chosen, n).set(rowAt(table, row)));
  return chosen;
}
