import { cutSnippets } from "../hits/snippets";
import { averageSpectrum, type LevelCurve } from "../measure/spectrum";
import { isShell, type Hit, type Piece } from "../song/song";

/** What a mic holds at its strokes and between them. */
export interface HitSpectra {
  strokes: number;
  bleedEvents: number;
  atHits: LevelCurve;
  between: LevelCurve;
}

/** How long a drum's own sound covers the bleed behind a stroke, s. */
const covers = (piece: Piece): number => (isShell(piece) && piece !== "kick" && piece !== "snare" ? 1 : 0.3);
/** Events that are enough to leave out those that may lie under the drum's own tail, and the time that then must do, s. */
const enoughEvents = 8;
const shortest = 0.2;

/** Instants of other drums' strokes that no stroke of this drum covers, s; where there are few, its tail may reach into them. */
export function bleedTimes(hits: readonly Hit[], piece: Piece): number[] {
  const own = hits.filter((h) => h.piece === piece).map((h) => h.time);
  const clearOf = (seconds: number) =>
    hits
      .filter((h) => h.piece !== piece && !own.some((o) => h.time - o > -0.14 && h.time - o < seconds))
      .map((h) => h.time);
  const clear = clearOf(covers(piece));
  return clear.length >= enoughEvents ? clear : clearOf(shortest);
}

/**
 * Average spectra of a mic at its drum's strokes and at the bleed between them.
 * Shape   x from the start of the files; at most 64 snippets of 0.12 s each.
 */
export function hitSpectra(
  x: Float32Array,
  piece: Piece,
  hits: readonly Hit[],
  lateBy: number,
  sampleRate: number,
): HitSpectra {
  const late = lateBy / sampleRate;
  const own = hits.filter((h) => h.piece === piece && !h.ghost).map((h) => h.time + late);
  const spread = (list: readonly number[]) =>
    list.filter((_, i) => i % Math.max(1, Math.floor(list.length / 64)) === 0).slice(0, 64);
  const cut = (times: readonly number[]) => cutSnippets(x, spread(times), 0, 0.12, sampleRate);
  const atHits = cut(own);
  const between = cut(bleedTimes(hits, piece));
  return {
    strokes: atHits.length,
    bleedEvents: between.length,
    atHits: averageSpectrum(atHits, sampleRate),
    between: averageSpectrum(between, sampleRate),
  };
}
