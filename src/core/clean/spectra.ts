import { timesOf } from "../hits/times";
import { anyBetween } from "../signal/ascending";
import { cutSnippets, spreadOver } from "../hits/snippets";
import { averageSpectrum, type LevelCurve } from "../measure/spectrum";
import { isShell, type Hit, type Piece } from "../song/song";

/** Parts of a stroke whose spectra are told apart, s after the onset. */
const parts = { stick: [0, 0.01], tail: [0.12, 0.4] } as const;

/** Snippets that are averaged at most. */
const most = 64;

/** What a mic holds at its strokes and between them. */
export interface HitSpectra {
  strokes: number;
  ghosts: number;
  bleedEvents: number;
  /** First 120 ms of the main strokes. */
  atHits: LevelCurve;
  /** Their first 10 ms. */
  stick: LevelCurve;
  /** From 120 to 400 ms behind them, where no other stroke of the drum comes. */
  tail: LevelCurve;
  /** First 120 ms of the ghost notes. */
  atGhosts: LevelCurve;
  between: LevelCurve;
}

/** How long a drum's own sound covers the bleed behind a stroke, s. */
const covers = (piece: Piece): number => (isShell(piece) && piece !== "kick" && piece !== "snare" ? 1 : 0.3);
/** Events that are enough to leave out those that may lie under the drum's own tail, and the time that then must do, s. */
const enoughEvents = 8;
const shortest = 0.2;

/** Instants of other drums' strokes that no stroke of these drums covers, s; where there are few, its tail may reach into them. */
export function bleedTimes(hits: readonly Hit[], ...pieces: readonly Piece[]): number[] {
  const own = timesOf(hits.filter((h) => pieces.includes(h.piece)));
  const clearOf = (seconds: number) =>
    hits
      .filter((h) => !pieces.includes(h.piece) && !anyBetween(own, h.time - seconds, h.time + 0.14))
      .map((h) => h.time);
  const clear = clearOf(Math.max(0, ...pieces.map(covers)));
  return clear.length >= enoughEvents ? clear : clearOf(shortest);
}

/**
 * Average spectra of a mic or bus at the strokes of its drums, in their parts, and at the bleed between them.
 * Shape   x from frame `from` of the song on; at most 64 snippets each.
 */
export function hitSpectra(
  x: Float32Array,
  pieces: readonly Piece[],
  hits: readonly Hit[],
  lateBy: number,
  sampleRate: number,
  from = 0,
): HitSpectra {
  const late = (lateBy - from) / sampleRate;
  const struck = hits.filter((h) => pieces.includes(h.piece)).sort((a, b) => a.time - b.time);
  const times = (list: readonly Hit[]) => list.map((h) => h.time + late);
  const own = times(struck.filter((h) => !h.ghost));
  const alone = struck.filter((h, i) => (struck[i + 1]?.time ?? Infinity) > h.time + parts.tail[1]);
  const cut = (list: readonly number[], [start, end]: readonly [number, number] = [0, 0.12]) =>
    cutSnippets(x, spreadOver(list, most), start, end, sampleRate);
  const spectrum = (snippets: readonly Float32Array[]) => averageSpectrum(snippets, sampleRate);
  const atHits = cut(own);
  const ghosts = cut(times(struck.filter((h) => h.ghost)));
  const between = cut(bleedTimes(hits, ...pieces).map((t) => t - from / sampleRate));
  return {
    strokes: atHits.length,
    ghosts: ghosts.length,
    bleedEvents: between.length,
    atHits: spectrum(atHits),
    stick: spectrum(cut(own, parts.stick)),
    tail: spectrum(cut(times(alone.filter((h) => !h.ghost)), parts.tail)),
    atGhosts: spectrum(ghosts),
    between: spectrum(between),
  };
}
