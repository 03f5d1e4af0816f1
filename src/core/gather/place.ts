import type { Operation } from "../song/operations";
import type { Mic, Section } from "../song/song";
import type { Marker } from "../file/audioInfo";

/** A file that begins later than this after the first is no part of the same take, s. */
const latestStart = 6 * 3600;

/**
 * Song frames at which files begin, from their times of day: the earliest begins the song. Files without a time of
 * day, or from another part of the day, begin with the song.
 * Source  EBU Tech 3285: time reference of the broadcast extension.
 */
export function startsOf(times: readonly (number | null)[], sampleRate: number): number[] {
  const known = times.filter((t) => t !== null);
  const first = Math.min(...known);
  return times.map((t) => (t === null || t - first > latestStart ? 0 : Math.round((t - first) * sampleRate)));
}

/** Operations that put files where their times of day say. */
export function placeMics(mics: readonly Mic[], sampleRate: number): Operation[] {
  const starts = startsOf(
    mics.map((m) => m.timeReference),
    sampleRate,
  );
  return mics.flatMap((m, i): Operation[] =>
    m.start === starts[i]! ? [] : [{ op: "setMic", mic: m.id, values: { start: starts[i]! } }],
  );
}

/** Sections between a file's markers; those without a name are counted. Shape  markers ascending, frames of the song. */
export function sectionsOf(markers: readonly Marker[], frames: number, sampleRate: number): Section[] {
  const inside = markers.filter((m, i) => m.frame < frames && m.frame !== markers[i - 1]?.frame);
  return inside.map(({ frame, name }, i) => ({
    id: `section${i + 1}`,
    name: name.slice(0, 80) || `Part ${i + 1}`,
    from: frame / sampleRate,
    to: (inside[i + 1]?.frame ?? frames) / sampleRate,
  }));
}
