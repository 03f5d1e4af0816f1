"use client";
import type { Tempo } from "../../../core/song/song";
import { Nothing } from "../../shared/Nothing";
import { useSong } from "../../shared/songStore";
import { meterName } from "../meters";
import { BarsPanel } from "./BarsPanel";
import { BeatPictures } from "./BeatPictures";
import { tempoChanges } from "./tempoChange";
import { TempoPanel } from "./TempoPanel";

const told = (tempo: Tempo): string => {
  const steady = tempo.meters.length > 0 ? "steady in stretches" : "steady";
  return `${meterName(tempo)}, ${tempo.beats.length} beats, ${tempo.follows ? "following the playing" : steady}`;
};

/** Beats: measured, followed, tapped or typed; meter, pick-up, first beat. */
export function BeatBench() {
  const song = useSong((s) => s.song!);
  const { tempo } = song;
  if (song.hits.length === 0 && !tempo)
    return <Nothing>Analyse the kit in Gather first; then the beats are measured from its strokes.</Nothing>;
  const changes = tempoChanges(song);
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {tempo ? `${tempo.bpm.toFixed(2)} bpm` : "No tempo yet"}{" "}
          <small data-testid="beats">{tempo && told(tempo)}</small>
        </h2>
        {tempo && <BeatPictures song={song} tempo={tempo} move={changes.move} />}
      </div>
      <aside className="settings">
        <TempoPanel tempo={tempo} sampleRate={song.sampleRate} changes={changes} />
        {tempo && <BarsPanel song={song} tempo={tempo} changes={changes} />}
      </aside>
    </div>
  );
}
