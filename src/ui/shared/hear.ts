import { editedTime } from "../../core/engine/timeline";
import { applyOperation, type Operation } from "../../core/song/operations";
import type { Mic } from "../../core/song/song";
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
/** Takes back that only some mics are heard. */
let untilThen: (() => void) | null = null;

/** Plays with some mics soloed until playback stops; heard only, the song stays as it is. */
export function hearOnly(heard: (mic: Mic) => boolean, begin: () => void): void {
  const { song, preview } = useSong.getState();
  if (!song) return;
  const alone: Operation = {
    op: "several",
    operations: song.mics.map((m) => ({ op: "setMic", mic: m.id, values: { soloed: heard(m) } })),
  };
  const { inverse } = applyOperation(song, alone);
  preview(alone);
  begin();
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

/** Plays some seconds of one file alone, where its drum is struck first. Again: stops. */
export function hearAlone(id: string | null): void {
  if (untilThen) return playback.stop();
  const { song } = useSong.getState();
  const mic = song?.mics.find((m) => m.id === id);
  if (!song || !mic) return;
  const first = song.hits.find((h) => h.piece === mic.piece) ?? song.hits[0];
  hearOnly(
    (m) => m.id === mic.id,
    () => hear(first?.time ?? 0, 0.3, aloneFor),
  );
}
