import { useState, type KeyboardEvent } from "react";
import { Table } from "react-bootstrap";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Song } from "../../../core/song/song";
import type { Reviewed } from "../../../core/tighten/review";
import { useCompare } from "../../compare/compareStore";
import { signed } from "../../shared/format";
import { playback } from "../../shared/playback";
import { act } from "./act";

/** Stretch around a move that is heard, s before and after. */
const heardBefore = 0.6;
const heardAfter = 0.6;

/** Plays the stretch around a move, as tightened or as played. */
function hear(song: Song, { playedAt }: Reviewed, asPlayed: boolean): void {
  useCompare.setState({ scope: "step", side: asPlayed ? "without" : "with", blind: null });
  const frame = (t: number) => Math.max(0, Math.round(t * song.sampleRate));
  playback.playStrokes([{ from: frame(playedAt - heardBefore), to: frame(playedAt + heardAfter) }]);
}

/** Rows that are listed at most. */
const mostRows = 300;

interface RowProps {
  readonly song: Song;
  readonly row: Reviewed;
  readonly bar: string;
  readonly chosen: boolean;
  readonly choose: () => void;
  readonly takeBack: () => void;
}

function ReviewRow({ song, row: r, bar, chosen, choose, takeBack }: RowProps) {
  return (
    <tr className={chosen ? "chosen" : ""} onClick={choose}>
      <td>{bar}</td>
      <td className="name">{r.pieces.map((p) => pieceNames[p]).join(", ") || "between"}</td>
      <td className="number">{r.time.toFixed(3)} s</td>
      <td className="number">{signed(1000 * r.shift, 1)} ms</td>
      <td
        className="number"
        title="Jump of the spectrum over the joint beyond what the drums do there themselves"
      >
        {r.jumpDb === null ? "–" : r.jumpDb <= 0 ? "smooth" : `+${r.jumpDb.toFixed(1)} dB`}
      </td>
      <td className="acts">
        {act("Before", () => hear(song, r, true))}
        {act("After", () => hear(song, r, false))}
        {act("Leave as played", takeBack)}
      </td>
    </tr>
  );
}

interface Props {
  readonly song: Song;
  /** Worst first. */
  readonly list: readonly Reviewed[];
  readonly barOf: (seconds: number) => string;
  readonly takeBack: (row: Reviewed) => void;
}

/** The moves, passed and heard by the arrow keys. */
export function ReviewTable({ song, list, barOf, takeBack }: Props) {
  const [chosen, setChosen] = useState(-1);
  const go = (i: number) => {
    const row = list[i];
    if (!row) return;
    setChosen(i);
    hear(song, row, false);
  };
  const keys = (event: KeyboardEvent) => {
    const at = Math.max(0, chosen);
    const now = list[at];
    const acts: Record<string, () => void> = {
      ArrowDown: () => go(chosen < 0 ? 0 : at + 1),
      ArrowUp: () => go(at - 1),
      Delete: () => now && takeBack(now),
      a: () => now && hear(song, now, true),
    };
    const does = acts[event.key];
    if (!does) return;
    event.preventDefault();
    event.stopPropagation();
    does();
  };
  return (
    <div
      className="scroll-list tall"
      tabIndex={0}
      onKeyDown={keys}
      aria-label="Moves, worst first; arrows pass and play them, A plays one as it was, Delete leaves one as played"
    >
      <Table size="sm" className="mic-table">
        <thead>
          <tr>
            <th>Bar</th>
            <th>Strokes</th>
            <th className="number">As played</th>
            <th className="number">Moved</th>
            <th className="number">Joint</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {list.slice(0, mostRows).map((r, i) => (
            <ReviewRow
              key={r.time}
              song={song}
              row={r}
              bar={barOf(r.playedAt)}
              chosen={i === chosen}
              choose={() => go(i)}
              takeBack={() => takeBack(r)}
            />
          ))}
        </tbody>
      </Table>
    </div>
  );
}
