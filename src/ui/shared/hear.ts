import { editedTime } from "../../core/engine/timeline";
import { applyOperation, type Operation } from "../../core/song/operations";
import { playback, usePlayback } from "./playback";
import { useSong } from "./songStore";

/** Plays a moment around an instant of the recording, where it is heard in the tightened song. All in s. */
export function hear(time: number, before: number, after: number): void {
  const { song } = useSong.getState();
  if (!song) return;
  const t = editedTime(song.edits, time, song.sampleRate);
  const frame = (s: number) => Math.max(0, Math.round(s * song.sampleRate));
  playback.playStrokes([{ from: frame(t - before), to: frame(t + after) }]);
}

/** How long a file is heard alone, s. */
const aloneFor = 4;
/** Takes back that one file is heard alone. */
let untilThen: (() => void) | null = null;

/** Plays some seconds of one file alone, where its drum is struck first; heard only, the song stays as it is. Again: stops. */
export function hearAlone(id: string | null): void {
  if (untilThen) return playback.stop();
  const { song, preview } = useSong.getState();
  const mic = song?.mics.find((m) => m.id === id);
  if (!song || !mic) return;
  const alone: Operation = {
    op: "several",
    operations: song.mics.map((m) => ({ op: "setMic", mic: m.id, values: { soloed: m.id === mic.id } })),
  };
  const { inverse } = applyOperation(song, alone);
  const first = song.hits.find((h) => h.piece === mic.piece) ?? song.hits[0];
  preview(alone);
  hear(first?.time ?? 0, 0.3, aloneFor);
  const leave = usePlayback.subscribe(({ playing }) => {
    if (!playing) untilThen?.();
  });
  untilThen = () => {
    untilThen = null;
    leave();
    if (useSong.getState().song) preview(inverse);
  };
  if (!usePlayback.getState().playing) untilThen();
}
