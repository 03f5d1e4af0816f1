import { median, quantile } from "../signal/level";
import type { Hit, Piece } from "../song/song";
import { hitExcess, sureOf } from "./evidence";
import type { PieceEvents, StrokeEvent } from "./events";
import { withKinds, withRims } from "./kinds";
import { isCymbal } from "./ownBands";

/**
 * dB under the drum's loud strokes at which nothing counts any more: only the snare is played with ghost notes, and
 * what is weak in the mic of a cymbal is the wash of another.
 */
const lowestStroke = (piece: Piece): number =>
  piece === "snare" ? 36 : piece === "hat" ? 20 : isCymbal(piece) ? 16 : 24;
/** Where the limit between main strokes and ghost notes is looked for, dB under the loud strokes: 15-25 is common practice for ghosts. */
const ghostRange = [8, 16] as const;
const usualGhostLimit = 11;
/** Two rises nearer than this are one stroke, unless the second is much louder: then the first is its grace note. s, dB. */
const oneStroke = 0.026;
const graceUnder = 5;
const leastFlam = 0.0145;

/** Limit between main strokes and ghost notes under the loud ones, dB: the middle of the widest gap in their levels. */
function ghostLimit(peaks: readonly number[], loud: number): number {
  const inside = peaks
    .map((p) => loud - p)
    .filter((d) => d >= ghostRange[0] && d <= ghostRange[1])
    .sort((a, b) => a - b);
  const edges = [ghostRange[0], ...inside, ghostRange[1]];
  let best = { at: usualGhostLimit, width: 2.5 };
  for (let i = 1; i < edges.length; i++) {
    const width = edges[i]! - edges[i - 1]!;
    if (width > best.width) best = { at: 0.5 * (edges[i]! + edges[i - 1]!), width };
  }
  return best.at;
}

/** A gap in the levels as wide as this, dB, parts main strokes from ghost notes even where main strokes are few. */
const clearGap = 6;

/** Level of a drum's loud strokes: what four of five lie under, or the few that stand clear of many quiet ones. */
function loudLevel(peaks: readonly number[]): number {
  const usual = quantile(peaks, 0.8);
  const above = peaks.filter((p) => p > usual).sort((a, b) => a - b);
  for (let i = above.length - 1; i >= 0; i--)
    if (above[i]! - (above[i - 1] ?? usual) > clearGap) return above[i]!;
  return usual;
}

/** One stroke this sure, or many that are fairly sure, and a drum is played. */
const surely = 0.97;
const fairly = { strokes: 6, sure: 0.85 } as const;

/**
 * False when all that was found is doubtful: then the drum is never struck, and what its mic hears are the others. Kick and
 * snare are never left out.
 */
function isPlayed(piece: Piece, hits: readonly Hit[]): boolean {
  if (piece === "kick" || piece === "snare") return true;
  const sure = hits.map((h) => h.sure);
  return Math.max(0, ...sure) >= surely || (sure.length >= fairly.strokes && median(sure) >= fairly.sure);
}

/** One stroke may rise twice within some ms: the first stays. A grace note before a much louder stroke is one of its own. */
function withoutDoubles(piece: Piece, events: readonly StrokeEvent[]): StrokeEvent[] {
  const kept: StrokeEvent[] = [];
  for (const e of events) {
    const last = kept[kept.length - 1];
    if (!last || e.time - last.time > oneStroke) kept.push(e);
    else if (e.peakDb > last.peakDb + graceUnder) {
      // Nearer than any flam is played: the first was another drum's, or the beater before the skin of a kick.
      if (e.time - last.time > leastFlam) kept.push(e);
      else kept[kept.length - 1] = piece === "kick" ? { ...e, time: last.time } : e;
    }
  }
  return kept;
}

const hitOf = (piece: Piece, { time, levelDb, excess }: StrokeEvent, ghost: boolean): Hit => ({
  piece,
  time,
  levelDb,
  ghost,
  kind: "stroke",
  sure: sureOf(piece, excess),
});

/**
 * Tells strokes from bleed among the events of one drum.
 * Shape   `sensitivity` in dB: what it takes off the excess that an event must have (0: as measured). `hasMic`: false for cymbals
 *         that only the overheads hear; there each stroke speaks for itself. Hits ascending.
 */
export function decideHits({ piece, events }: PieceEvents, sensitivity = 0, hasMic = true): Hit[] {
  const strokes = events.filter((e) => e.excess > hitExcess(piece) - sensitivity);
  const loud = loudLevel(strokes.map((e) => e.peakDb));
  const lowest = loud - lowestStroke(piece);
  const single = withoutDoubles(
    piece,
    strokes.filter((e) => e.peakDb >= lowest),
  );
  const ghostBelow = ghostLimit(
    single.map((e) => e.peakDb),
    loud,
  );
  const hits = single.map((e) => hitOf(piece, e, piece === "snare" && e.peakDb < loud - ghostBelow));
  if (hasMic && !isPlayed(piece, hits)) return [];
  const named = withKinds(hits);
  return piece === "snare"
    ? withRims(
        named,
        single.map((e) => e.brightness),
      )
    : named;
}
