"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { isLayer, mainMic, type LayerMic, type Piece, type Song } from "../../../core/song/song";
import { pieceNames } from "../../../core/song/pieceNames";
import { withoutMics } from "../../../core/song/routes";
import { shortName } from "../../shared/format";
import { Nothing } from "../../shared/Nothing";
import { useSong } from "../../shared/songStore";
import { AddLayer } from "./AddLayer";
import { LayerPhase } from "./LayerPhase";
import { LayerSettings } from "./LayerSettings";
import { LayerShare } from "./LayerShare";
import { LayerSounds } from "./LayerSounds";

/** Layers that play at the strokes of a drum. */
export const layersOf = (song: Pick<Song, "mics">, piece: Piece | null): LayerMic[] =>
  song.mics.filter(isLayer).filter((m) => m.layer.drum === piece);

/** Layers: one-shots that play at the strokes of a drum, beside its mics. */
export function LayersBench({ piece, back }: { piece: Piece; back: () => void }) {
  const song = useSong((s) => s.song!);
  const [chosen, setChosen] = useState<string | null>(null);
  const layers = layersOf(song, piece);
  const mic = layers.find((m) => m.id === chosen) ?? layers[0];
  const remove = ({ id, file }: LayerMic) => {
    const operations = withoutMics(song, [id]);
    useSong.getState().change(`Remove ${shortName(file)}`, { op: "several", operations });
  };
  return (
    <>
      <div className="bench-head">
        <Button size="sm" variant="outline-primary" onClick={back}>
          Back to the chains
        </Button>
        {layers.length > 1 && (
          <div className="mic-tabs" role="group" aria-label="Layers of this drum">
            {layers.map((m) => (
              <button
                key={m.id}
                type="button"
                className={m === mic ? "chosen" : ""}
                aria-pressed={m === mic}
                onClick={() => setChosen(m.id)}
              >
                {shortName(m.file)}
              </button>
            ))}
          </div>
        )}
        <AddLayer piece={piece} added={setChosen} />
        {mic && (
          <Button size="sm" variant="outline-secondary" onClick={() => remove(mic)}>
            Remove {shortName(mic.file)}
          </Button>
        )}
      </div>
      {mic ? (
        <LayerView key={mic.id} song={song} mic={mic} />
      ) : (
        <Nothing>
          {pieceNames[piece]} has no layer. A layer plays one-shots at its strokes: captured from this
          recording, from files, or made.
        </Nothing>
      )}
    </>
  );
}

function LayerView({ song, mic }: { song: Song; mic: LayerMic }) {
  const baked = song.mics.find((m) => m.piece === "loop" && !m.muted);
  const main = mainMic(song.mics, mic.layer.drum) ?? baked;
  return (
    <div className="bench-columns">
      <div className="evidence">
        {main ? (
          <>
            <LayerPhase song={song} main={main} mic={mic} />
            <LayerShare song={song} main={main} mic={mic} />
          </>
        ) : (
          <Nothing>
            {pieceNames[mic.layer.drum]} has no mic of its own beside which the layer could be measured.
          </Nothing>
        )}
      </div>
      <aside className="settings">
        <LayerSounds mic={mic} sampleRate={song.sampleRate} />
        <LayerSettings mic={mic} sampleRate={song.sampleRate} />
      </aside>
    </div>
  );
}
