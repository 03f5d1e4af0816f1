import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";

/** Switches the loop; without one, two bars from the playhead on (or four seconds) are looped. */
export function toggleLoop(): void {
  const { song } = useSong.getState();
  const { loop, looping } = usePlayback.getState();
  if (!song) return;
  if (loop) return playback.setLoop(loop, !looping);
  const rate = song.sampleRate;
  const now = playback.position / rate;
  const { tempo } = song;
  const first = tempo
    ? tempo.beats.findLastIndex((b, i) => b <= now + 0.05 && i % tempo.beatsPerBar === 0)
    : -1;
  const from = tempo && first >= 0 ? tempo.beats[first]! : now;
  const to = from + (tempo ? (2 * tempo.beatsPerBar * 60) / tempo.bpm : 4);
  playback.setLoop({ from: Math.round(from * rate), to: Math.min(song.frames, Math.round(to * rate)) }, true);
}

/** Puts the playhead a little before the next or previous stroke of the chosen drum. */
export function jumpToHit(direction: 1 | -1): void {
  const { song, piece } = useSong.getState();
  if (!song) return;
  const lead = 0.05;
  const now = playback.position / song.sampleRate;
  const times = song.hits.filter((h) => piece === null || h.piece === piece).map((h) => h.time - lead);
  const target =
    direction === 1
      ? times.find((t) => t > now + 0.01)
      : times.findLast((t) => t < now - (usePlayback.getState().playing ? 0.25 : 0.01));
  if (target !== undefined) playback.seek(Math.max(0, target) * song.sampleRate);
}
