import { isKitMic, type Edit, type Mic, type Song } from "../song/song";
import { editedTime, readEdited, type ReadSource } from "./timeline";

/** Layers of edits by which a mic is read: those of the whole kit first, its own under them. */
export type Cuts = readonly (readonly Edit[])[];

/**
 * Cuts of one mic; none where it is read as it was recorded. Other music stays where it is when the kit is tightened: it
 * is what the kit is judged against.
 */
export const cutsOfMic = (song: Song, mic: Mic): Cuts =>
  [isKitMic(song, mic) ? song.edits : [], mic.ownEdits].filter((edits) => edits.length > 0);

/** Cuts of every mic of a song, in their order. */
export const cutsOf = (song: Song): Cuts[] => song.mics.map((mic) => cutsOfMic(song, mic));

/** True when every mic is read by the very same lists. */
export const sameCuts = (a: readonly Cuts[], b: readonly Cuts[]): boolean =>
  a.length === b.length &&
  a.every((cuts, m) => cuts.length === b[m]!.length && cuts.every((edits, i) => edits === b[m]![i]));

/** Frames by which what is read may lie beside where it is heard. */
export const reachOf = (all: readonly Cuts[]): number =>
  all.reduce((most, cuts) => {
    const reach = cuts.reduce(
      (sum, edits) => sum + edits.reduce((m, e) => Math.max(m, Math.abs(e.shift)), 0),
      0,
    );
    return Math.max(most, reach);
  }, 0);

/** Reads frames [from, from + count) of the tightened song from one channel's recording, as `readEdited` does by one list. */
export function readCut(
  cuts: Cuts,
  read: ReadSource,
  from: number,
  count: number,
  out: Float32Array,
  to = 0,
): void {
  if (cuts.length === 0) return read(from, count, out, to);
  const [outer, ...inner] = cuts as [readonly Edit[], ...Cuts];
  const source: ReadSource = inner.length === 0 ? read : (f, n, y, at) => readCut(inner, read, f, n, y, at);
  readEdited(outer, source, from, count, out, to);
}

/** Where an instant of a mic's recording is heard, s. */
export const cutTime = (cuts: Cuts, time: number, sampleRate: number): number =>
  [...cuts].reverse().reduce((t, edits) => editedTime(edits, t, sampleRate), time);
