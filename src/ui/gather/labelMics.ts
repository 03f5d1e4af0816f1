import type { Operation } from "../../core/song/operations";
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
    operations: mics.map((m): Operation => ({ op: "setMic", mic: m.id, values: { ...values, sure: 1 } })),
  });
}
