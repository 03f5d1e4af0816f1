import { bands, incoming, usualLevel, type BandEnergies } from "../bandEnergies";
import { newTable, type Table } from "./table";

/** One channel by which strokes are told apart: a close mic or an overhead. */
export interface Row {
  /** Index of the piece whose mic it is among the pieces; -1: an overhead. */
  readonly piece: number;
  /** It is the main mic of its piece. */
  readonly main: boolean;
  readonly energies: BandEnergies;
}

/** Instants at which something is struck, as every row hears them. */
export interface Instants {
  /** Ascending. */
  readonly columns: Int32Array;
  /** Energy that comes in, [instant][row * bands + band]. */
  readonly heard: Table;
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
  for (const band of b.energy) {
    const e = band.subarray(0);
    const floor = Math.max(usualLevel(e, 0.2), 1e-13);
    for (let t = 4; t < b.columns; t++) {
      const ratio = (e[t]! + floor) / (Math.max(e[t - 3]!, e[t - 4]!) + floor);
      if (ratio > rise[t]!) rise[t] = ratio;
    }
  }
  return rise.map((r) => (r > 1 ? 10 * Math.log10(r) : 0));
}

/** Where a mic's energy rises, ascending, and how far, dB. */
export interface Rises {
  readonly columns: Int32Array;
  readonly rises: Float32Array;
}

/** Columns at which a mic's energy rises sharply in one of its bands, at least 8 ms apart. */
export function risingColumns(b: BandEnergies): Rises {
  const rise = risesOf(b);
  const total = new Float32Array(b.columns);
  for (const band of b.energy) {
    const e = band.subarray(0);
    for (let t = 0; t < b.columns; t++) total[t]! += e[t]!;
  }
  const least = 10 ** (-leastUnder / 10) * usualLevel(total, 0.995);
  const gap = Math.round(0.008 / b.hop);
  const found: number[] = [];
  for (let t = 4; t < b.columns - 1; t++) {
    if (rise[t]! < leastRise || rise[t]! < rise[t - 1]! || rise[t]! <= rise[t + 1]!) continue;
    if (Math.max(total[t]!, total[t + 1]!, total[t + 2] ?? 0) < least) continue;
    const last = found[found.length - 1];
    if (last !== undefined && t - last < gap) {
      if (rise[t]! > rise[last]!) found[found.length - 1] = t;
    } else found.push(t);
  }
  return { columns: Int32Array.from(found), rises: Float32Array.from(found, (t) => rise[t]!) };
}

/** What is asked for instants: the main mics, and the overheads where some cymbal has none. */
export const askedFor = (rows: readonly Row[], overheads: boolean): BandEnergies[] =>
  rows.flatMap((r) => (r.main || (overheads && r.piece < 0) ? [r.energies] : []));

/** Rises of all mics in the order of their columns, those of one column in the order of the mics. */
function* inOrder(found: readonly Rises[]): Generator<{ readonly column: number; readonly rise: number }> {
  const at = new Int32Array(found.length);
  for (;;) {
    let next = -1;
    let column = Infinity;
    found.forEach(({ columns }, m) => {
      const c = columns[at[m]!] ?? Infinity;
      if (c < column) [next, column] = [m, c];
    });
    if (next < 0) return;
    yield { column, rise: found[next]!.rises[at[next]!++]! };
  }
}

/** Columns of the instants: of rises that follow each other closely, the steepest. */
function instantColumns(found: readonly Rises[]): Int32Array {
  const columns: number[] = [];
  let first = -Infinity;
  let steepest = 0;
  for (const { column, rise } of inOrder(found)) {
    if (column - first >= oneInstant) {
      columns.push(column);
      [first, steepest] = [column, rise];
    } else if (rise > steepest) {
      columns[columns.length - 1] = column;
      steepest = rise;
    }
  }
  return Int32Array.from(columns);
}

/** Instants at which any mic rises that is asked, and what every row hears then. Shape  found: by mic that is asked. */
export function findInstants(rows: readonly Row[], found: readonly Rises[]): Instants {
  const columns = instantColumns(found);
  const heard = newTable(columns.length, rows.length * bands);
  rows.forEach(({ energies, piece }, r) =>
    energies.energy.forEach((band, b) => {
      const e = band.subarray(0);
      const [from, to] = piece < 0 ? [-1, 5] : [-2, 4];
      columns.forEach((column, i) => {
        heard.values[i * heard.width + r * bands + b] = incoming(e, column, from, to, held);
      });
    }),
  );
  return { columns, heard };
}
