"use client";
import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { readMidiKeys, type MidiKey } from "../../../core/file/strokesMidi";
import type { LayerMic, LayerStroke } from "../../../core/song/song";
import { shortName } from "../../shared/format";
import { useSong } from "../../shared/songStore";
import { setLayer } from "./layerMoves";

/** Largest MIDI file that is read, bytes. */
const largestFile = 4e6;

interface ChoiceProps {
  readonly mic: LayerMic;
  readonly keys: readonly MidiKey[];
  readonly leave: () => void;
}
/** Which notes of a file are played. */
function KeyChoice({ mic, keys, leave }: ChoiceProps) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set([0]));
  const turn = (i: number) => setChosen((c) => new Set(c.has(i) ? [...c].filter((x) => x !== i) : [...c, i]));
  const take = () => {
    const all = keys.filter((_, i) => chosen.has(i)).flatMap((k): readonly LayerStroke[] => k.strokes);
    setLayer(mic, { strokes: [...all].sort((a, b) => a.time - b.time), shifts: [] });
    leave();
  };
  return (
    <>
      {keys.map((k, i) => (
        <Form.Check
          key={`${k.channel} ${k.key}`}
          id={`${mic.id}-key-${i}`}
          label={`${k.name}: ${k.strokes.length} notes`}
          checked={chosen.has(i)}
          onChange={() => turn(i)}
        />
      ))}
      <Button size="sm" disabled={chosen.size === 0} onClick={take}>
        Play these
      </Button>{" "}
      <Button size="sm" variant="outline-primary" onClick={leave}>
        Leave it
      </Button>
    </>
  );
}

/** Strokes of a layer: those of the drum, or notes of a MIDI file. */
export function MidiStrokes({ mic }: { mic: LayerMic }) {
  const input = useRef<HTMLInputElement>(null);
  const [keys, setKeys] = useState<readonly MidiKey[]>([]);
  const { strokes } = mic.layer;
  const read = async (file: File) => {
    try {
      if (file.size > largestFile) throw new Error(`has ${file.size} bytes; at most ${largestFile} are read`);
      setKeys(readMidiKeys(new Uint8Array(await file.arrayBuffer())));
    } catch (error) {
      useSong.getState().tell(`${file.name} ${(error as Error).message}. The layer stays as it is.`);
    }
  };
  return (
    <div className="midi-strokes">
      <p className="quiet">
        {strokes ? `It plays ${strokes.length} strokes of a file.` : "It plays the strokes of the drum."}
      </p>
      {keys.length > 0 ? (
        <KeyChoice mic={mic} keys={keys} leave={() => setKeys([])} />
      ) : (
        <>
          <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
            Strokes from a MIDI file …
          </Button>{" "}
          {strokes && (
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => setLayer(mic, { strokes: null, shifts: [] })}
            >
              Those of the drum
            </Button>
          )}
        </>
      )}
      <input
        ref={input}
        type="file"
        hidden
        accept=".mid,.midi"
        aria-label={`MIDI file with strokes for ${shortName(mic.file)}`}
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = "";
          if (file) void read(file);
        }}
      />
    </div>
  );
}
