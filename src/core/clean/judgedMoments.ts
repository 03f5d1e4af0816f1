import { isShell, type Hit, type Piece, type Song } from "../song/song";

/** Moments of a song by which the cleaning of the whole kit is judged: at most so many, each so long, s. */
const most = 4;
export const momentSeconds = 4;
/** Strokes of a drum that are enough. */
const enough = 5;

/** Seconds at which moments begin that hold strokes of every shell, few of them together. Ascending. */
export function judgedMoments({
  hits,
  frames,
  sampleRate,
}: Pick<Song, "hits" | "frames" | "sampleRate">): number[] {
  const shells = hits.filter((h) => isShell(h.piece));
  const latest = Math.max(0, frames / sampleRate - momentSeconds);
  const counted = new Map<Piece, number>();
  const starts: number[] = [];
  const inside = (h: Hit, from: number) => h.time > from + 0.3 && h.time < from + momentSeconds - 0.4;
  while (starts.length < most) {
    let best = { from: 0, gain: 0, held: new Map<Piece, number>() };
    for (const first of shells) {
      const from = Math.min(latest, Math.max(0, first.time - 0.5));
      if (starts.some((s) => Math.abs(s - from) < momentSeconds)) continue;
      const held = new Map<Piece, number>();
      for (const h of shells) if (inside(h, from)) held.set(h.piece, (held.get(h.piece) ?? 0) + 1);
      let gain = 0;
      for (const [piece, n] of held) gain += Math.min(n, Math.max(0, enough - (counted.get(piece) ?? 0)));
      if (gain > best.gain) best = { from, gain, held };
    }
    if (best.gain === 0) break;
    starts.push(best.from);
    for (const [piece, n] of best.held) counted.set(piece, (counted.get(piece) ?? 0) + n);
  }
  return starts.sort((a, b) => a - b);
}
