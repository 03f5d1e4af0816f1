/** Index of the first of ascending numbers that lies above a limit; their count where none does. Allocates nothing. */
export function firstAbove(values: ArrayLike<number>, limit: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle]! <= limit) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The same of the first that lies at the limit or above. */
export function firstFrom(values: ArrayLike<number>, limit: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle]! < limit) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Whether one of ascending numbers lies between two, ends left out. */
export const anyBetween = (values: ArrayLike<number>, from: number, to: number): boolean =>
  (values[firstAbove(values, from)] ?? Infinity) < to;
