import { sameValue } from "../../sameValue";
import { cutsOfMic, readCut, reachOf, type Cuts } from "../cuts";
import type { ReadSource } from "../timeline";
import { isLayer, type Song } from "../../song/song";
import { placedStrokes, type PlacedSound } from "./placeStrokes";
import { readLayer } from "./readLayer";

/** How a mic is read: a recording by its cuts, or a layer by where its sounds are played. */
export interface Reading {
  readonly cuts: Cuts;
  /** null: it is a recording. */
  readonly placed: readonly PlacedSound[] | null;
}

/** A recording that nothing moves. */
export const asRecorded: Reading = { cuts: [], placed: null };

/** How every mic of a song is read, in their order. */
export const readingsOf = (song: Song): Reading[] =>
  song.mics.map((mic) =>
    isLayer(mic)
      ? { cuts: [], placed: placedStrokes(song, mic) }
      : { cuts: cutsOfMic(song, mic), placed: null },
  );

/**
 * True when every mic is read alike: by the very same lists, or by others that say the same, as those of a song that came
 * from the server again.
 */
export function sameReadings(a: readonly Reading[], b: readonly Reading[]): boolean {
  // Most mics are read by one list, and thousands of edits are looked through once.
  const known = new Map<unknown, unknown>();
  const same = (x: unknown, y: unknown): boolean => {
    if (x === y || known.get(x) === y) return true;
    if (!sameValue(x, y)) return false;
    known.set(x, y);
    return true;
  };
  return (
    a.length === b.length &&
    a.every(({ cuts, placed }, m) => {
      const other = b[m]!;
      return (
        same(placed, other.placed) &&
        cuts.length === other.cuts.length &&
        cuts.every((edits, i) => same(edits, other.cuts[i]))
      );
    })
  );
}

/** Frames by which what is read of a recording may lie beside where it is heard. */
export const readingReach = (all: readonly Reading[]): number => reachOf(all.map((r) => r.cuts));

/** Reads song frames [from, from + count) of one channel of a mic. */
export function readMic(
  { cuts, placed }: Reading,
  read: ReadSource,
  from: number,
  count: number,
  out: Float32Array,
  to = 0,
): void {
  if (placed) readLayer(placed, read, from, count, out, to);
  else readCut(cuts, read, from, count, out, to);
}
