import type { Song } from "../song/song";

/** Length of the stretch by which ways to clean are judged, s. */
export const judgedSeconds = 30;

/** Song second from which a stretch holds the most strokes of a drum. */
export function judgedFrom({ hits, frames, sampleRate }: Song, ...pieces: readonly string[]): number {
  const own = hits.filter((h) => pieces.includes(h.piece)).map((h) => h.time);
  const latest = Math.max(0, frames / sampleRate - judgedSeconds);
  let best = { from: 0, count: 0 };
  for (const t of own) {
    const from = Math.min(latest, Math.max(0, t - 0.5));
    const count = own.filter((x) => x >= from && x < from + judgedSeconds).length;
    if (count > best.count) best = { from, count };
  }
  return best.from;
}
