import { editedTime } from "../../core/engine/timeline";
import { pieceNames } from "../../core/song/pieceNames";
import { drumPieces, type Song } from "../../core/song/song";
import type { PlotTable } from "../shared/plot/plotTable";

/** The song line as a table: how many strokes of each drum, ghost notes apart, in each section and in the song. */
export function strokesTable({ hits, edits, sampleRate, sections }: Song): PlotTable {
  const played = hits.map((h) => ({ ...h, at: editedTime(edits, h.time, sampleRate) }));
  const count = (of: typeof played): string => {
    const ghosts = of.filter((h) => h.ghost).length;
    return ghosts > 0 ? `${of.length - ghosts} and ${ghosts} ghost notes` : String(of.length);
  };
  return {
    head: ["Drum", "Song", ...sections.map((s) => s.name)],
    rows: drumPieces
      .filter((p) => played.some((h) => h.piece === p))
      .map((p) => {
        const own = played.filter((h) => h.piece === p);
        return [
          pieceNames[p],
          count(own),
          ...sections.map((s) => count(own.filter((h) => h.at >= s.from && h.at < s.to))),
        ];
      }),
  };
}
