"use client";
import { useState } from "react";
import { Button, Dropdown, Form, Modal } from "react-bootstrap";
import type { LayerSource } from "../../../contract";
import { isDrum, isLayer, mainMic, type Piece } from "../../../core/song/song";
import { limits } from "../../../core/song/limits";
import { pieceNames } from "../../../core/song/pieceNames";
import { api } from "../../shared/api";
import { shortName } from "../../shared/format";
import { useSong } from "../../shared/songStore";

/** Adds a layer under a drum: from its own cleanest strokes, from files of the song, or made. */
export function AddLayer({ piece, added }: { piece: Piece; added: (mic: string) => void }) {
  const song = useSong((s) => s.song!);
  const [busy, setBusy] = useState(false);
  const [choosing, setChoosing] = useState(false);
  const has = mainMic(song.mics, piece) !== undefined;
  const name = pieceNames[piece].toLowerCase();
  const add = async (source: Omit<LayerSource, "drum">) => {
    setBusy(true);
    const before = new Set(song.mics.map((m) => m.id));
    const { onServer } = useSong.getState();
    await onServer((id, version) => api.addLayer(id, version, { drum: piece, ...source }));
    const fresh = useSong.getState().song!.mics.find((m) => isLayer(m) && !before.has(m.id));
    if (fresh) added(fresh.id);
    setBusy(false);
  };
  return (
    <>
      <Dropdown>
        <Dropdown.Toggle size="sm" disabled={busy || song.mics.length >= limits.mics}>
          {busy ? "Making the layer …" : "Add a layer"}
        </Dropdown.Toggle>
        <Dropdown.Menu className="add-menu">
          <Dropdown.Item
            as="button"
            disabled={!has}
            onClick={() => void add({ from: "recording", files: [] })}
          >
            <strong>From this recording</strong>
            <br />
            <small className="quiet">The cleanest strokes of the {name}, and their average.</small>
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setChoosing(true)}>
            <strong>From files of the song …</strong>
            <br />
            <small className="quiet">One-shots that were brought in at Gather: WAV, AIFF or FLAC.</small>
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => void add({ from: "made", files: [] })}>
            <strong>Made-up sounds</strong>
            <br />
            <small className="quiet">A few from sines and noise, to try it out.</small>
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {choosing && (
        <ChooseFiles
          close={() => setChoosing(false)}
          take={(files) => {
            setChoosing(false);
            void add({ from: "files", files });
          }}
        />
      )}
    </>
  );
}

/** Files whose sounds are to be played; they become the layer. */
function ChooseFiles({ close, take }: { close: () => void; take: (files: string[]) => void }) {
  const song = useSong((s) => s.song!);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const files = song.mics.filter((m) => !isLayer(m) && !isDrum(m.piece));
  return (
    <Modal show onHide={close} centered aria-label="Sounds of the layer">
      <Modal.Header closeButton>
        <Modal.Title as="h2">Sounds of the layer</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {files.length === 0 ? (
          <p>
            The song has no file that is not of a drum: bring one-shots in at Gather, they are labelled
            “Sample”.
          </p>
        ) : (
          <p>
            Several files are alternates of each other, or louder and softer strokes. They become the layer;
            one step back they are files again.
          </p>
        )}
        {files.map((m) => (
          <Form.Check
            key={m.id}
            id={`layer-file-${m.id}`}
            label={`${shortName(m.file)} (${pieceNames[m.piece]}, ${(m.frames / song.sampleRate).toFixed(2)} s)`}
            checked={chosen.includes(m.id)}
            onChange={() =>
              setChosen((c) => (c.includes(m.id) ? c.filter((id) => id !== m.id) : [...c, m.id]))
            }
          />
        ))}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={close}>
          Cancel
        </Button>
        <Button disabled={chosen.length === 0} onClick={() => take([...chosen])}>
          Make the layer
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
