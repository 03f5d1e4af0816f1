import { bands, usualLevel } from "../bandEnergies";
import { isCymbal } from "../ownBands";
import type { Piece } from "../../song/song";
import type { Instants, Row } from "./instants";
import { newTable, rowAt, type Table } from "./table";

/** A piece that is struck; one without a mic of its own is heard in the overheads. */
export type Source = Piece;

export const decibels = (power: number): number => 10 * Math.log10(power + 1e-30);

/** Mean of the largest few of some values. */
export const bestMean = (list: readonly number[], n: number): number => {
  const sorted = [...list].sort((a, b) => b - a);
  return sorted.slice(0, n).reduce((s, v) => s + v, 0) / Math.min(n, sorted.length);
};

/** Bands in which a source is judged in its own row. */
export const bandsOf = (source: Source): readonly number[] =>
  source === "hat" ? [4, 5] : isCymbal(source) ? [3, 4, 5] : [0, 1, 2, 3, 4, 5];
/** How many of its bands must speak for it. */
export const bandsAsked = (source: Source): number => (isCymbal(source) ? 2 : 3);

/** An instant within this time after something about as loud may be its tail, s. */
const tail = 0.09;

/** A recording as it is explained; plain, so that it can be handed to another thread. */
export interface ExplainedData {
  readonly pieces: readonly Piece[];
  readonly rows: readonly Row[];
  readonly instants: Instants;
  /** Cymbals without a mic of their own. */
  readonly missing: readonly Piece[];
  /** By row and band: what is heard when nothing is struck, and how much the row says. */
  readonly floor: Float64Array;
  readonly weights: Float64Array;
  /** Energy of every piece's loud strokes in its own row. */
  readonly loud: readonly number[];
  /** By instant, 1: nothing about as loud was struck just before. */
  readonly fresh: Uint8Array;
  readonly sources: Source[];
  readonly prints: Float64Array[];
  /** Loudness of every source at every instant, [instant][source]. */
  readonly loudness: Table;
}

/** Sources with their prints, how loud each is at every instant, and what that explains. */
export class Explained implements ExplainedData {
  readonly pieces: readonly Piece[];
  readonly rows: readonly Row[];
  readonly instants: Instants;
  readonly missing: readonly Piece[];
  readonly floor: Float64Array;
  readonly weights: Float64Array;
  readonly loud: readonly number[];
  readonly fresh: Uint8Array;
  readonly sources: Source[];
  readonly prints: Float64Array[];
  loudness: Table;
  /** Rows of the overheads. */
  readonly overheads: readonly number[];
  private readonly foundIn: ReadonlyMap<Source, number>;
  private readonly relatives: readonly Float64Array[];

  constructor(data: ExplainedData) {
    this.pieces = data.pieces;
    this.rows = data.rows;
    this.instants = data.instants;
    this.missing = data.missing;
    this.floor = data.floor;
    this.weights = data.weights;
    this.loud = data.loud;
    this.fresh = data.fresh;
    this.sources = data.sources;
    this.prints = data.prints;
    this.loudness = data.loudness;
    this.overheads = overheadsOf(data.rows);
    this.foundIn = ownRows(data);
    this.relatives = relativesOf(data);
  }
  /** Everything that is known, for another thread; energies only of the `rows` that are asked for. */
  data(rows: readonly number[]): ExplainedData {
    const { pieces, instants, missing, floor, weights, loud, fresh, sources, prints, loudness } = this;
    const thin = this.rows.map((r, n) =>
      rows.includes(n) ? r : { ...r, energies: { ...r.energies, energy: [] } },
    );
    return { pieces, rows: thin, instants, missing, floor, weights, loud, fresh, sources, prints, loudness };
  }

  /** What stands for all cymbals without a mic together, with or without a print; undefined: nobody would hear them. */
  get far(): Source | undefined {
    return this.overheads.length > 0 ? this.missing[0] : undefined;
  }
  /** Row in which a source is found: its main mic, or the first overhead for what has none; -1: there is none. */
  rowOf(source: Source): number {
    return this.foundIn.get(source) ?? -1;
  }
  /** Number of instants. */
  get count(): number {
    return this.instants.columns.length;
  }
  /** What all rows hear at an instant, [row * bands + band]. */
  heard(i: number): Float64Array {
    return rowAt(this.instants.heard, i);
  }
  own(i: number, row: number): Float64Array {
    return this.heard(i).subarray(row * bands, (row + 1) * bands);
  }
  /** Loudness of a source at an instant. */
  loudnessOf(i: number, k: number): number {
    return this.loudness.values[i * this.loudness.width + k]!;
  }
  /** Energy that comes into a source's own row in its bands. */
  level(i: number, source: Source): number {
    const own = this.own(i, this.rowOf(source));
    return bandsOf(source).reduce((s, b) => s + own[b]!, 0);
  }
  /** The same against the piece's loud strokes, dB. */
  relative(i: number, p: number): number {
    return this.relatives[p]![i]!;
  }

  /** Energies that all sources but one bring, and the floor, written into `into`. */
  withoutOne(i: number, one: number, into: Float64Array): Float64Array {
    this.predictedBut(i, -1, into);
    const print = this.prints[one];
    if (!print) return into;
    const a = this.loudnessOf(i, one);
    for (let r = 0; r < into.length; r++) into[r] = Math.max(this.floor[r]!, into[r]! - a * print[r]!);
    return into;
  }
  /** The same summed without the one, so that nothing is left of it by rounding. */
  predictedBut(
    i: number,
    but: number,
    into: Float64Array = new Float64Array(this.floor.length),
  ): Float64Array {
    into.set(this.floor);
    this.prints.forEach((print, k) => {
      const a = this.loudnessOf(i, k);
      if (k === but || a <= 0) return;
      for (let r = 0; r < into.length; r++) into[r]! += a * print[r]!;
    });
    return into;
  }
  /** dB by which the bands of a source's own row stand over what the others explain, [band]. */
  over(i: number, source: Source, but = this.sources.indexOf(source)): number[] {
    const row = this.rowOf(source);
    const heard = this.heard(i);
    return Array.from({ length: bands }, (_, b) => {
      const r = row * bands + b;
      let predicted = this.floor[r]!;
      this.prints.forEach((print, k) => (predicted += k === but ? 0 : this.loudnessOf(i, k) * print[r]!));
      return decibels((heard[r]! + this.floor[r]!) / predicted);
    });
  }
  /** The clearest of these: how far the source stands over the others, dB. */
  excess(i: number, source: Source, over: readonly number[] = this.over(i, source)): number {
    return bestMean(
      bandsOf(source).map((b) => over[b]!),
      bandsAsked(source),
    );
  }
}

const overheadsOf = (rows: readonly Row[]): number[] => rows.flatMap((r, n) => (r.piece < 0 ? [n] : []));

type Basics = Pick<ExplainedData, "pieces" | "rows" | "instants" | "missing">;

/** Main mic's row of every piece; the first overhead for what stands for all cymbals without one. */
function ownRows({ pieces, rows, missing }: Basics): Map<Source, number> {
  const found = new Map<Source, number>();
  rows.forEach((r, n) => r.main && found.set(pieces[r.piece]!, n));
  const [overhead] = overheadsOf(rows);
  if (overhead !== undefined && missing[0]) found.set(missing[0], overhead);
  return found;
}

const levelIn = ({ heard }: Instants, i: number, row: number, source: Source): number =>
  bandsOf(source).reduce((s, b) => s + heard.values[i * heard.width + row * bands + b]!, 0);

/** One number an instant. */
const byInstant = ({ columns }: Instants, value: (i: number) => number): Float64Array =>
  Float64Array.from({ length: columns.length }, (_, i) => value(i));

/** By piece and instant: how loud its own row is against its loud strokes, dB. */
function relativesOf({
  pieces,
  rows,
  instants,
  loud,
}: Pick<ExplainedData, "pieces" | "rows" | "instants" | "loud">): Float64Array[] {
  return pieces.map((piece, p) => {
    const row = rows.findIndex((r) => r.main && r.piece === p);
    return byInstant(instants, (i) => decibels(levelIn(instants, i, row, piece) / (loud[p]! + 1e-30)));
  });
}

function freshOf({ rows, instants, missing }: Basics, relatives: readonly Float64Array[]): Uint8Array {
  const { columns, heard } = instants;
  const { hop } = rows[0]!.energies;
  const bright = (missing.length === 0 ? [] : overheadsOf(rows)).map((row) => {
    const at = (i: number, b: number) => heard.values[i * heard.width + row * bands + b]!;
    const levels = byInstant(instants, (i) => decibels(at(i, 4) + at(i, 5)));
    const loud = levels.slice().sort().at(-4) ?? 0;
    return levels.map((v) => v - loud);
  });
  const strength = byInstant(instants, (i) => Math.max(...[...relatives, ...bright].map((r) => r[i]!)));
  const fresh = new Uint8Array(new SharedArrayBuffer(columns.length)).fill(1);
  for (let i = 0; i < columns.length; i++)
    for (let j = i - 1; j >= 0 && (columns[i]! - columns[j]!) * hop < tail; j--)
      if (strength[j]! > strength[i]! - 3) {
        fresh[i] = 0;
        break;
      }
  return fresh;
}

/** What is known of a recording before anything is learnt. */
export function groundOf(
  pieces: readonly Piece[],
  rows: readonly Row[],
  instants: Instants,
  missing: readonly Piece[],
): ExplainedData {
  const floor = new Float64Array(rows.length * bands);
  const weights = new Float64Array(rows.length * bands);
  rows.forEach((r, i) =>
    r.energies.energy.forEach((e, b) => {
      floor[i * bands + b] = 2 * usualLevel(e.subarray(0), 0.3) + 1e-13;
      weights[i * bands + b] = r.main ? 1 : r.piece < 0 ? 0.4 : 0.6;
    }),
  );
  const loud = pieces.map((piece, p) => {
    const row = rows.findIndex((r) => r.main && r.piece === p);
    const sorted = byInstant(instants, (i) => levelIn(instants, i, row, piece)).sort();
    return sorted[Math.max(0, sorted.length - 4)] ?? 0;
  });
  const basics = { pieces, rows, instants, missing };
  const fresh = freshOf(basics, relativesOf({ ...basics, loud }));
  return { ...basics, floor, weights, loud, fresh, sources: [], prints: [], loudness: newTable(0, 0) };
}
