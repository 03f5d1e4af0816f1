import { Button } from "react-bootstrap";
import { recordedTime } from "../../../core/engine/timeline";
import { number } from "../../../core/params";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Piece } from "../../../core/song/song";
import { signed } from "../../shared/format";
import { ParamField } from "../../shared/ParamField";
import { playback } from "../../shared/playback";
import { useSong } from "../../shared/songStore";
import { changePlaying, redetected } from "../playingChange";

const sensitivitySpec = number(
  "Sensitivity",
  "dB",
  -20,
  20,
  0,
  "How much less likely than usual an event may be to count as a stroke: 10 dB are ten times the odds.",
);

interface Props {
  readonly piece: Piece;
  /** Null where only the overheads hear it. */
  readonly sensitivity: number | null;
  readonly draft: (sensitivity: number | null) => void;
  readonly add: (time: number) => void;
}

/** How easily something counts as a stroke, and a stroke that is added by hand. */
export function DetectionPanel({ piece, sensitivity, draft, add }: Props) {
  const { sampleRate, detection, edits } = useSong((s) => s.song!);
  const move = (value: number, done: boolean) => {
    draft(done ? null : value);
    if (!done) return;
    const all = { ...detection, sensitivity: { ...detection.sensitivity, [piece]: value } };
    const name = pieceNames[piece].toLowerCase();
    changePlaying(`Sensitivity of the ${name} ${signed(value, 1)} dB`, redetected(all));
  };
  return (
    <section className="panel">
      <header>
        <h3>Detection</h3>
      </header>
      {sensitivity !== null ? (
        <ParamField
          spec={sensitivitySpec}
          value={sensitivity}
          sampleRate={sampleRate}
          onChange={(v, done) => move(Number(v), done)}
        />
      ) : (
        <p className="hint">Heard in the overheads only: correct these strokes by hand.</p>
      )}
      <Button
        size="sm"
        variant="outline-secondary"
        onClick={() => add(recordedTime(edits, playback.position / sampleRate, sampleRate))}
      >
        Add a stroke at the playhead
      </Button>
    </section>
  );
}
