import { bands, incoming, usualLevel, type BandEnergies } from "../bandEnergies";

/** One channel by which strokes are told apart: a close mic or an overhead. */
export interface Row {
  /** Index of the piece whose mic it is among the pieces; -1: an overhead. */
  readonly piece: number;
  /** It is the main mic of its piece. */
  readonly main: boolean;
  readonly energies: BandEnergies;
}

/** An instant at which something is struck, as every row hears it. */
export interface Instant {
  readonly column: number;
  /** Energy that comes in, [row * bands + band]. */
  readonly heard: Float64Array;
}

/** Columns within which rises in several mics are one instant: 11 ms. */
const oneInstant = 4;
const leastRise = 4;
/** What rings on is taken off a little more than it was: it beats. */
const held = 1.2;
/** dB under a mic's loud moments at which nothing is looked at any more. */
const leastUnder = 45;

/** Rise of the band that rises most at every column, dB. */
function risesOf(b: BandEnergies): Float32Array {
  const rise = new Float32Array(b.columns);
  for (const e of b.energy) {
    const floor = Math.max(usualLevel(e, 0.2), 1e-13);
    for (let t = 4; t < b.columns; t++) {
      const ratio = (e[t]! + floor) / (Math.max(e[t - 3]!, e[t - 4]!) + floor);
      if (ratio > rise[t]!) rise[t] = ratio;
    }
  }
  return rise.map((r) => (r > 1 ? 10 * Math.log10(r) : 0));
}

/** Where a mic's energy rises, and how far, dB. */
export interface Rise {
  readonly column: number;
  readonly rise: number;
}

/** Columns at which a mic's energy rises sharply in one of its bands, at least 8 ms apart. */
export function risingColumns(b: BandEnergies): Rise[] {
  const rise = risesOf(b);
  const total = new Float32Array(b.columns);
  for (const e of b.energy) for (let t = 0; t < b.columns; t++) total[t]! += e[t]!;
  const least = 10 ** (-leastUnder / 10) * usualLevel(total, 0.995);
  const gap = Math.round(0.008 / b.hop);
  const found: Rise[] = [];
  for (let t = 4; t < b.columns - 1; t++) {
    if (rise[t]! < leastRise || rise[t]! < rise[t - 1]! || rise[t]! <= rise[t + 1]!) continue;
    if (Math.max(total[t]!, total[t + 1]!, total[t + 2] ?? 0) < least) continue;
    const last = found[found.length - 1];
    if (last && t - last.column < gap) {
      if (rise[t]! > last.rise) found[found.length - 1] = { column: t, rise: rise[t]! };
    } else found.push({ column: t, rise: rise[t]! });
  }
  return found;
}

/** What is asked for instants: the main mics, and the overheads where some cymbal has none. */
export const askedFor = (rows: readonly Row[], overheads: boolean): BandEnergies[] =>
  rows.flatMap((r) => (r.main || (overheads && r.piece < 0) ? [r.energies] : []));

/** Instants at which any mic rises that is asked, and what every row hears then. Shape  found: by mic that is asked. Result ascending. */
export function findInstants(rows: readonly Row[], found: readonly (readonly Rise[])[]): Instant[] {
  const rises = found.flat().sort((a, b) => a.column - b.column);
  const columns: number[] = [];
  for (let i = 0; i < rises.length;) {
    let best = rises[i]!;
    let j = i;
    for (; j < rises.length && rises[j]!.column - rises[i]!.column < oneInstant; j++)
      if (rises[j]!.rise > best.rise) best = rises[j]!;
    columns.push(best.column);
    i = j;
  }
  const width = rows.length * bands;
  // One buffer for all: it is handed to other threads.
  const all = new Float64Array(columns.length * width);
  return columns.map((column, n) => {
    const heard = all.subarray(n * width, (n + 1) * width);
    rows.forEach(({ energies, piece }, r) =>
      energies.energy.forEach((e, b) => {
        heard[r * bands + b] =
          piece < 0 ? incoming(e, column, -1, 5, held) : incoming(e, column, -2, 4, held);
      }),
    );
    return { column, heard };
  });
}
