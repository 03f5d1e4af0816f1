import { editedTime } from "../../core/engine/timeline";
import { playback } from "./playback";
import { useSong } from "./songStore";

/** Plays a moment around an instant of the recording, where it is heard in the tightened song. All in s. */
export function hear(time: number, before: number, after: number): void {
  const { song } = useSong.getState();
  if (!song) return;
  const t = editedTime(song.edits, time, song.sampleRate);
  const frame = (s: number) => Math.max(0, Math.round(s * song.sampleRate));
  playback.playStrokes([{ from: frame(t - before), to: frame(t + after) }]);
}
