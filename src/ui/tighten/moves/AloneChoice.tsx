import { useMemo } from "react";
import { Form } from "react-bootstrap";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Piece } from "../../../core/song/song";
import { riskOfAlone, seamsOfDrum } from "../../../core/tighten/alone";
import { useSong } from "../../shared/songStore";
import type { MovePanelProps } from "./movePanel";

/** Moves of a drum's own mics beyond which its two places are heard as two strokes, s (common practice, no source). */
const heardTwice = 0.006;

/** Whether a drum is moved alone, and what that does. */
export function AloneChoice({ piece, song, settings, store }: MovePanelProps & { readonly piece: Piece }) {
  const events = useSong((s) => s.facts.events);
  const alone = settings.alone.includes(piece);
  const risk = useMemo(() => {
    if (!alone || !song.tempo) return null;
    const { hits, tempo, sections, edits, sampleRate } = song;
    const seams = seamsOfDrum(piece, hits, tempo, settings, sections, edits, sampleRate);
    return riskOfAlone(piece, seams, hits, Object.values(events), sampleRate);
  }, [alone, song, settings, piece, events]);
  return (
    <>
      <Form.Check
        type="switch"
        id={`alone-${piece}`}
        label={`${pieceNames[piece]} alone`}
        checked={alone}
        onChange={() =>
          store(
            { alone: alone ? settings.alone.filter((x) => x !== piece) : [...settings.alone, piece] },
            true,
          )
        }
      />
      {risk && (
        <p className="warn" role="status">
          {risk.apart > heardTwice ? "It will be heard twice: its" : "Its"} own mics lie up to{" "}
          {(1000 * risk.apart).toFixed(1)} ms beside the overheads and rooms
          {risk.loudest
            ? `, and the ${pieceNames[risk.loudest.piece].toLowerCase()} mic hears it at ${risk.loudest.db.toFixed(0).replace("-", "−")} dB`
            : ""}
          .
        </p>
      )}
    </>
  );
}
