import { relabel } from "../../core/song/relabel";
import type { Piece, Place } from "../../core/song/song";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";

/** Kind of data under which a file of the table is dragged. */
export const micDrag = "application/x-jubo-mic";

/** After the last of several labels in a row, ms. */
const settled = 1500;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Lets the server measure what new labels change: a mic or two, or all strokes where drums have other mics now. */
function followSoon(id: string): void {
  clearTimeout(timer);
  timer = setTimeout(() => {
    const state = useSong.getState();
    if (state.id !== id || !state.analysed) return;
    if (state.task?.state === "running" || state.task?.state === "waiting") followSoon(id);
    else void state.run("analyse", { labels: true });
  }, settled);
}

/** Labels files by hand, several as one change; what was found of them follows. */
export function labelMics(ids: readonly string[], values: { piece?: Piece; place?: Place }): void {
  const { song, id, change } = useSong.getState();
  const mics = song?.mics.filter((m) => ids.includes(m.id)) ?? [];
  if (!song || mics.length === 0) return;
  const what = mics.length === 1 ? shortName(mics[0]!.file) : `${mics.length} files`;
  change(`Label ${what}`, { op: "several", operations: relabel(song, ids, values) });
  if (values.piece || values.place) followSoon(id);
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
  e: "response",
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
