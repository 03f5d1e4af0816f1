"use client";
import { useRef } from "react";
import { Button } from "react-bootstrap";
import { editedTime } from "../../core/engine/timeline";
import { readHitsMidi, writeHitsMidi } from "../../core/file/hitsMidi";
import { useSong } from "../shared/songStore";
import { changePlaying } from "./playingChange";

/** Saves the strokes as they are heard, with the tempo map. */
function save(): void {
  const { song } = useSong.getState();
  if (!song) return;
  const playedAt = (t: number) => editedTime(song.edits, t, song.sampleRate);
  const bytes = writeHitsMidi(song.hits, song.tempo, song.title, playedAt);
  const url = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: "audio/midi" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = `${song.title} strokes.mid`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}

/** Takes strokes from a file: its drums replace those found, the others stay. */
async function load(file: File): Promise<void> {
  const { song, tell } = useSong.getState();
  if (!song) return;
  try {
    const strokes = readHitsMidi(new Uint8Array(await file.arrayBuffer()));
    const inside = strokes.filter((h) => h.time < song.frames / song.sampleRate);
    const given = new Set(inside.map((h) => h.piece));
    const hits = [...song.hits.filter((h) => !given.has(h.piece)), ...inside].sort((a, b) => a.time - b.time);
    changePlaying(`Strokes from ${file.name}`, { hits });
  } catch (error) {
    tell(`${file.name} ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`);
  }
}

/** Strokes as a MIDI file, out and in. */
export function MidiButtons() {
  const input = useRef<HTMLInputElement>(null);
  return (
    <section className="panel">
      <header>
        <h3>Strokes as MIDI</h3>
      </header>
      <div className="row-buttons">
        <Button size="sm" variant="outline-secondary" onClick={save}>
          Save a MIDI file
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={() => input.current?.click()}>
          Take strokes from one
        </Button>
      </div>
      <input
        ref={input}
        type="file"
        accept=".mid,.midi,audio/midi"
        hidden
        aria-label="MIDI file with strokes"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void load(file);
        }}
      />
      <p className="hint">
        General MIDI drums with their velocities and the tempo map; times as they are heard now. A file that
        is taken replaces the strokes of the drums it holds.
      </p>
    </section>
  );
}
