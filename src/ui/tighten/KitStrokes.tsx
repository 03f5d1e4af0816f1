"use client";
import { Table } from "react-bootstrap";
import { doubtsOf } from "../../core/hits/corrections";
import { hitExcess } from "../../core/hits/evidence";
import type { Hit } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { useSong } from "../shared/songStore";
import { MidiButtons } from "./MidiButtons";

/** Strokes of the whole kit by drum. */
export function KitStrokes() {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const { detection, hits } = song;
  const pieces = [...new Set(hits.map((h) => h.piece))];
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <h2>
          {hits.length} strokes <small>choose a drum to look at all of its strokes</small>
        </h2>
        <Table size="sm" className="mic-table">
          <thead>
            <tr>
              <th>Drum</th>
              <th className="number">Main</th>
              <th className="number">Ghosts</th>
              <th className="number">Grace</th>
              <th className="number">In rolls</th>
              <th className="number">Doubtful</th>
              <th className="number">By hand</th>
            </tr>
          </thead>
          <tbody>
            {pieces.map((piece) => {
              const own = hits.filter((h) => h.piece === piece);
              const events = facts.events[piece];
              const limit = hitExcess(piece) - (detection.sensitivity[piece] ?? 0);
              const doubts = events ? doubtsOf(events, limit, own, detection.corrections).length : 0;
              const byHand = detection.corrections.filter(
                (c) => (c.type === "add" ? c.hit.piece : c.piece) === piece,
              ).length;
              const count = (f: (h: Hit) => boolean) => own.filter(f).length || "–";
              return (
                <tr key={piece} onClick={() => useSong.getState().choosePiece(piece)}>
                  <td className="name">
                    <strong>{pieceNames[piece]}</strong>
                    {!events && <span className="quiet"> heard in the overheads</span>}
                  </td>
                  <td className="number">{count((h) => !h.ghost)}</td>
                  <td className="number">{count((h) => h.ghost)}</td>
                  <td className="number">{count((h) => h.kind === "grace")}</td>
                  <td className="number">{count((h) => h.kind === "roll")}</td>
                  <td className="number">{doubts || "–"}</td>
                  <td className="number">{byHand || "–"}</td>
                </tr>
              );
            })}
          </tbody>
        </Table>
      </div>
      <aside className="settings">
        <MidiButtons />
      </aside>
    </div>
  );
}
