import { Form } from "react-bootstrap";
import { number } from "../../../core/params";
import { pieceNames } from "../../../core/song/pieceNames";
import { drumPieces, type Piece } from "../../../core/song/song";
import { ParamField } from "../../shared/ParamField";
import { AloneChoice } from "./AloneChoice";
import type { MovePanelProps } from "./movePanel";

const drumSpec = number("Of the strength", "%", 0, 100, 100, "How much of the strength this drum takes.");

/** Whether a drum decides where the moves go, and how much of the strength it takes. */
function DrumShare({ piece, song, settings, store }: MovePanelProps & { readonly piece: Piece }) {
  const { leaders, byPiece } = settings;
  const leads = leaders.includes(piece);
  return (
    <div className="drum-share">
      <Form.Check
        aria-label={`${pieceNames[piece]} leads`}
        checked={leads}
        onChange={() =>
          store({ leaders: leads ? leaders.filter((x) => x !== piece) : [...leaders, piece] }, true)
        }
      />
      <ParamField
        spec={{ ...drumSpec, label: pieceNames[piece] }}
        value={leads ? 100 * (byPiece[piece] ?? 1) : 0}
        sampleRate={song.sampleRate}
        disabled={!leads}
        onChange={(v, done) => store({ byPiece: { ...byPiece, [piece]: Number(v) / 100 } }, done)}
      />
    </div>
  );
}

/** What every drum has to say in the moves, and which are moved in their own mics only. */
export function DrumsPanel({ song, settings, store }: MovePanelProps) {
  const pieces = drumPieces.filter((p) => song.hits.some((h) => h.piece === p));
  const withMic = pieces.filter((p) => song.mics.some((m) => m.piece === p && !m.silent));
  return (
    <section className="panel">
      <header>
        <h3>By drum</h3>
        <small className="quiet">ticked ones decide</small>
      </header>
      {pieces.map((p) => (
        <DrumShare key={p} piece={p} song={song} settings={settings} store={store} />
      ))}
      <p className="hint">
        A drum may also be moved in its own mics only, against what all the others hear of it.
      </p>
      {withMic.map((p) => (
        <AloneChoice key={p} piece={p} song={song} settings={settings} store={store} />
      ))}
    </section>
  );
}
