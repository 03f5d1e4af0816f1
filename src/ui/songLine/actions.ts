import { barLines } from "../../core/grid/bars";
import { editedTime } from "../../core/engine/timeline";
import type { Song } from "../../core/song/song";
import type { Stretch } from "../../playback/messages";
import { hearOnly } from "../shared/hear";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";

/** How much before a stroke listening begins, s. */
const lead = 0.05;
/** Longest tail of a stroke when strokes are played one after another, s. */
const longestTail = 0.45;

/** Times of the strokes of the chosen drum (or of all) as they are heard, s, ascending. */
function strokeTimes(song: Song): number[] {
  const { piece } = useSong.getState();
  return song.hits
    .filter((h) => piece === null || h.piece === piece)
    .map((h) => editedTime(song.edits, h.time, song.sampleRate))
    .sort((a, b) => a - b);
}
const frames = (song: Song, from: number, to: number): Stretch => ({
  from: Math.max(0, Math.round(from * song.sampleRate)),
  to: Math.min(song.frames, Math.round(to * song.sampleRate)),
});

/** `bars` bars from the one under the playhead on; without a tempo two seconds a bar. */
function barsFrom(song: Song, bars: number): Stretch {
  const now = playback.position / song.sampleRate;
  const { tempo } = song;
  if (!tempo) return frames(song, now, now + 2 * bars);
  const lines = barLines(tempo);
  const first = Math.max(
    0,
    lines.findLastIndex((l) => l.seconds <= now + lead),
  );
  const from = lines[first]?.seconds ?? 0;
  const to = lines[first + bars]?.seconds ?? from + (bars * tempo.beatsPerBar * 60) / tempo.bpm;
  return frames(song, from, to);
}

export const loopKinds = ["1 bar", "2 bars", "4 bars", "section", "stroke"] as const;
export type LoopKind = (typeof loopKinds)[number];

/** The stretch that a kind of loop means where the playhead stands; null: there is none. */
function stretchOf(song: Song, kind: LoopKind): Stretch | null {
  const now = playback.position / song.sampleRate;
  if (kind === "section") {
    const section = song.sections.find((s) => now >= s.from && now < s.to);
    return section ? frames(song, section.from, section.to) : null;
  }
  if (kind !== "stroke") return barsFrom(song, Number(kind[0]));
  const times = strokeTimes(song);
  const at = times.findIndex((t) => t > now - 0.01);
  if (at < 0) return null;
  const end = Math.min(times[at + 1] ?? Infinity, times[at]! + 1);
  return frames(song, times[at]! - lead, Math.max(end - 0.01, times[at]! + 0.15));
}

/** Loops a bar range, the section or the stroke at the playhead. */
export function loopHere(kind: LoopKind): void {
  const { song, tell } = useSong.getState();
  if (!song) return;
  const stretch = stretchOf(song, kind);
  if (stretch) playback.setLoop(stretch, true);
  else tell(kind === "section" ? "The playhead stands in no section." : "No stroke follows the playhead.");
}

/** Switches the loop; without one, two bars from the playhead on are looped. */
export function toggleLoop(): void {
  const { loop, looping } = usePlayback.getState();
  if (loop) playback.setLoop(loop, !looping);
  else loopHere("2 bars");
}

/** Puts the playhead a little before the next or previous stroke of the chosen drum. */
export function jumpToHit(direction: 1 | -1): void {
  const { song } = useSong.getState();
  if (!song) return;
  const now = playback.position / song.sampleRate;
  const times = strokeTimes(song).map((t) => t - lead);
  const target =
    direction === 1
      ? times.find((t) => t > now + 0.01)
      : times.findLast((t) => t < now - (usePlayback.getState().playing ? 0.25 : 0.01));
  if (target !== undefined) playback.seek(Math.max(0, target) * song.sampleRate);
}

/** Plays the strokes of the chosen drum from the playhead on, each with its tail and nothing between; or stops that. */
export function playStrokes(): void {
  const { song, tell } = useSong.getState();
  if (!song) return;
  if (usePlayback.getState().strokes) return playback.stop();
  const { loop, looping } = usePlayback.getState();
  const within = looping && loop ? loop : { from: playback.position, to: song.frames };
  const times = strokeTimes(song);
  const stretches = times
    .map((t, i) => frames(song, t - lead, Math.min(times[i + 1] ?? Infinity, t + longestTail) - 0.01))
    .filter((s) => s.to - s.from > 0.06 * song.sampleRate && s.to > within.from && s.from < within.to);
  if (stretches.length < 2) tell("Choose a drum with at least two strokes behind the playhead.");
  else playback.playStrokes(stretches);
}

/** As playStrokes, with all mics of the chosen drum alone instead of in the kit. */
export function playStrokesAlone(): void {
  const { piece, tell } = useSong.getState();
  if (usePlayback.getState().strokes) return playback.stop();
  if (piece === null) return tell("Choose a drum on the plan: its strokes are heard alone.");
  hearOnly((m) => m.piece === piece, playStrokes);
}

/** Makes a section of the loop. */
export function sectionFromLoop(name: string): void {
  const { song, change } = useSong.getState();
  const { loop } = usePlayback.getState();
  if (!song || !loop) return;
  const id = `section${1 + song.sections.reduce((n, s) => Math.max(n, Number(/\d+$/.exec(s.id)?.[0] ?? 0)), 0)}`;
  const made = { id, name, from: loop.from / song.sampleRate, to: loop.to / song.sampleRate };
  const sections = [...song.sections, made].sort((a, b) => a.from - b.from);
  change(`Section ${name}`, { op: "setSong", values: { sections } });
}
