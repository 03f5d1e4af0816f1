import type { Operation } from "../../core/song/operations";
import { followLabel } from "../../core/song/relabel";
import type { Piece, Place } from "../../core/song/song";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";

/** Kind of data under which a file of the table is dragged. */
export const micDrag = "application/x-jubo-mic";

/** Labels files by hand, several as one change. */
export function labelMics(ids: readonly string[], values: { piece?: Piece; place?: Place }): void {
  const { song, change } = useSong.getState();
  const mics = song?.mics.filter((m) => ids.includes(m.id)) ?? [];
  if (mics.length === 0) return;
  const what = mics.length === 1 ? shortName(mics[0]!.file) : `${mics.length} files`;
  change(`Label ${what}`, {
    op: "several",
    operations: mics.flatMap((m): Operation[] => [
      ...followLabel(m, values),
      { op: "setMic", mic: m.id, values: { ...values, sure: 1 } },
    ]),
  });
}

/** Keys that say which drum a file is, in the list of files; shown beside it. */
export const pieceKeys: Readonly<Record<string, Piece>> = {
  k: "kick",
  s: "snare",
  "1": "tom1",
  "2": "tom2",
  "3": "tom3",
  f: "floor",
  h: "hat",
  r: "ride",
  c: "crash",
  o: "overhead",
  m: "room",
  x: "context",
};
/** Keys that say where a file's mic stands, right after the drum. */
export const placeKeys: Readonly<Record<string, Place>> = {
  i: "in",
  o: "out",
  u: "sub",
  t: "top",
  b: "bottom",
  s: "side",
  l: "left",
  r: "right",
  p: "pair",
  n: "close",
};
