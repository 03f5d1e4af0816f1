import { median, quantile } from "../signal/level";
import { isShell, type Hit, type Piece } from "../song/song";
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
/** dB that strokes of a kick or tom may lie under the loudest bleed: its own mic hears it louder than all others. */
const underBleed = 6;
/** dB that doubtful strokes of a kick or tom may lie under its loud ones. */
const underLoud = 12;
/** Where the limit between main strokes and ghost notes is looked for, dB under the loud strokes: 15-25 is common practice for ghosts. */
const ghostRange = [8, 16] as const;
const usualGhostLimit = 11;
/** Two rises nearer than this are one stroke, unless the second is much louder: then the first is its grace note. s, dB. */
const oneStroke = 0.026;
const graceUnder = 5;
const leastFlam = 0.0145;
/** Excess from which the level of the bleed no longer matters, dB. */
const beyondDoubt = 14;

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

/**
 * False when what was found is doubtful or next to nothing, and no louder than the bleed beside it: then the drum is
 * never struck. One or two strokes on a cymbal are another cymbal's; a tom may well be played once.
 */
function isPlayed(piece: Piece, hits: readonly Hit[], bleedDb: number | null, suspect: boolean): boolean {
  if (suspect && hits.length < 3) return false;
  if (hits.length > 2 && median(hits.map((h) => h.sure)) >= 0.4) return true;
  // What one cymbal does, another one's mic explains to a large part; many strokes at one level are still its own.
  const sureEnough = hits.length < 12 ? 0.3 : 0.15;
  if (!isShell(piece) && (hits.length < 3 || median(hits.map((h) => h.sure)) < sureEnough)) return false;
  return bleedDb === null || median(hits.map((h) => h.levelDb)) > bleedDb;
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

/** Excess from which an event in a far mic is a stroke, dB; how far under the loudest it may lie, dB. */
const farExcess = hitExcess("crash");
const lowestFar = 14;

/** Strokes in a far mic that no close mic explains: a cymbal's, as far as they are not much weaker than the others. */
export function decideFar({ piece, events }: PieceEvents): Hit[] {
  const clear = events.filter((e) => e.excess > farExcess);
  const lowest = quantile(clear.map((e) => e.peakDb), 0.9) - lowestFar; // prettier-ignore
  const strokes = withoutDoubles(piece, clear.filter((e) => e.peakDb > lowest)); // prettier-ignore
  return strokes.map((e) => hitOf(piece, e, false));
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
 * Shape   `sensitivity` in dB: what it takes off the excess that an event must have (0: as measured). Hits ascending.
 */
export function decideHits({ piece, events, suspect, bleedDb }: PieceEvents, sensitivity = 0): Hit[] {
  const strokes = events.filter((e) => e.excess > hitExcess(piece) - sensitivity);
  const loud = loudLevel(strokes.map((e) => e.peakDb));
  const hasGhosts = !isShell(piece) || piece === "snare";
  const lowest = loud - lowestStroke(piece);
  const doubtful = hasGhosts ? -Infinity : Math.max(loud - underLoud, (bleedDb ?? -Infinity) - underBleed);
  const single = withoutDoubles(
    piece,
    strokes.filter((e) => e.peakDb >= lowest && (e.excess > beyondDoubt || e.peakDb >= doubtful)),
  );
  const ghostBelow = ghostLimit(single.map((e) => e.peakDb), loud); // prettier-ignore
  const hits = single.map((e) => hitOf(piece, e, piece === "snare" && e.peakDb < loud - ghostBelow));
  if (!isPlayed(piece, hits, bleedDb, suspect)) return [];
  const named = withKinds(hits);
  return piece === "snare" ? withRims(named, single.map((e) => e.brightness)) : named; // prettier-ignore
}
