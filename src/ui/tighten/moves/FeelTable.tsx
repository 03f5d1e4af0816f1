import { useMemo } from "react";
import { Table } from "react-bootstrap";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Piece, Song, Tempo, TightenSettings } from "../../../core/song/song";
import { feelByDrum, findFills } from "../../../core/tighten/playing";
import { signed } from "../../shared/format";
import { playback } from "../../shared/playback";
import { useSong } from "../../shared/songStore";

const ms = (seconds: number): string => `${signed(1000 * seconds, 1)} ms`;
/** A fill that runs by more is told, s. */
const runsFrom = 0.012;

interface Props {
  readonly song: Song;
  readonly tempo: Tempo;
  readonly settings: TightenSettings;
}

/** Fills that rush or drag; a press goes there. */
function RunningFills({ song, tempo, settings }: Props) {
  const { hits, sections } = song;
  const fills = useMemo(() => findFills(hits, tempo, settings, sections), [hits, tempo, settings, sections]);
  const running = fills.filter((f) => Math.abs(f.drags) > runsFrom);
  if (running.length === 0) return null;
  return (
    <p className="hint">
      {running.map((f, i) => (
        <span key={f.from}>
          {i > 0 ? "; " : "Fills that run: "}
          <button
            type="button"
            className="link"
            onClick={() => playback.seek(Math.max(0, f.from - 0.3) * song.sampleRate)}
          >
            bar {f.at}
          </button>{" "}
          {f.drags < 0 ? "rushes" : "drags"} by {(1000 * Math.abs(f.drags)).toFixed(0)} ms
        </span>
      ))}
    </p>
  );
}

/** How every drum plays, in the song and by section; the fills that run. */
export function FeelTable({ song, tempo, settings }: Props) {
  const { hits, sections } = song;
  const feels = useMemo(() => feelByDrum(hits, tempo, settings, sections), [hits, tempo, settings, sections]);
  const whole = feels.filter((f) => f.section === null);
  const cell = (piece: Piece, section: string) =>
    feels.find((f) => f.piece === piece && f.section === section);
  return (
    <div className="feel">
      <Table size="sm" className="mic-table">
        <thead>
          <tr>
            <th>Lean, late +</th>
            <th className="number">Song</th>
            <th className="number">Spread</th>
            {sections.map((s) => (
              <th className="number" key={s.id}>
                {s.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {whole.map((f) => (
            <tr key={f.piece} onClick={() => useSong.getState().choosePiece(f.piece)}>
              <td className="name">
                <strong>{pieceNames[f.piece]}</strong> <span className="quiet">{f.strokes}</span>
              </td>
              <td className="number">{ms(f.lean)}</td>
              <td className="number">{(1000 * f.spread).toFixed(1)} ms</td>
              {sections.map((s) => {
                const own = cell(f.piece, s.id);
                return (
                  <td className="number" key={s.id}>
                    {own ? ms(own.lean) : ""}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Table>
      <RunningFills song={song} tempo={tempo} settings={settings} />
    </div>
  );
}
