import { withoutEchoes } from "./echoes";
import type { DetectionSettings, Hit, HitCorrection, Piece } from "../song/song";
import { median } from "../signal/level";
import { decideHits } from "./decideHits";
import type { PieceEvents } from "./events";

/** A stroke is the one that was corrected when it is found this near to where it was found then, s. */
const sameStroke = 0.01;

/** Index of the stroke of a drum nearest to an instant; -1: none is near. */
function strokeAt(hits: readonly Hit[], piece: Piece, time: number): number {
  let best = -1;
  hits.forEach((h, i) => {
    if (h.piece !== piece || Math.abs(h.time - time) > sameStroke) return;
    if (best < 0 || Math.abs(h.time - time) < Math.abs(hits[best]!.time - time)) best = i;
  });
  return best;
}

function corrected(hits: readonly Hit[], c: HitCorrection): Hit[] {
  if (c.type === "add")
    return strokeAt(hits, c.hit.piece, c.hit.time) < 0
      ? [...hits, c.hit]
      : hits.map((h, i) => (i === strokeAt(hits, c.hit.piece, c.hit.time) ? c.hit : h));
  const at = strokeAt(hits, c.piece, c.time);
  if (at < 0) return [...hits];
  return c.type === "drop" ? hits.filter((_, i) => i !== at) : hits.map((h, i) => (i === at ? c.hit : h));
}

/**
 * Strokes with what was corrected by hand, one correction after another. One whose stroke is no longer found does
 * nothing. Shape  ascending.
 */
export const correctHits = (found: readonly Hit[], corrections: readonly HitCorrection[]): Hit[] =>
  [...corrections.reduce<readonly Hit[]>(corrected, found)].sort((a, b) => a.time - b.time);

/** Strokes of a song as its detection settings want them. Drums without events (heard in the overheads) keep theirs. */
export function decideAll(
  hits: readonly Hit[],
  events: readonly PieceEvents[],
  { sensitivity, corrections }: DetectionSettings,
): Hit[] {
  const decided = events.flatMap((e) => decideHits(e, sensitivity[e.piece] ?? 0));
  const others = hits.filter((h) => !events.some((e) => e.piece === h.piece));
  return correctHits(withoutEchoes([...decided, ...others]), corrections);
}

/** An event that was no stroke, or one that is a doubtful one. */
export interface Doubt {
  readonly piece: Piece;
  readonly time: number;
  readonly levelDb: number;
  readonly excess: number;
  /** It counts as a stroke now. */
  readonly taken: boolean;
}

/** The stroke that an event is when somebody says it is one: that which is there already, or a new one by its level. */
export function strokeOf({ piece, time, levelDb }: Doubt, hits: readonly Hit[]): Hit {
  const at = strokeAt(hits, piece, time);
  if (at >= 0) return { ...hits[at]!, sure: 1 };
  const own = hits.filter((h) => h.piece === piece);
  const mains = own.filter((h) => !h.ghost).map((h) => h.levelDb);
  const ghosts = own.filter((h) => h.ghost).map((h) => h.levelDb);
  // Nearer to the drum's ghost notes than to its main strokes.
  const ghost = ghosts.length > 0 && mains.length > 0 && levelDb < 0.5 * (median(ghosts) + median(mains));
  return { piece, time, levelDb, ghost, kind: "stroke", sure: 1 };
}

/** dB around the limit within which an event is doubtful. */
const doubtWithin = 3.5;

/** Events near the limit between stroke and bleed that nobody has decided on yet, the most doubtful first. */
export function doubtsOf(
  { piece, events }: PieceEvents,
  limit: number,
  hits: readonly Hit[],
  corrections: readonly HitCorrection[],
): Doubt[] {
  const decidedOn = (t: number) =>
    corrections.some((c) => {
      const [p, at] = c.type === "add" ? [c.hit.piece, c.hit.time] : [c.piece, c.time];
      return p === piece && Math.abs(at - t) < sameStroke;
    });
  return events
    .filter((e) => Math.abs(e.excess - limit) < doubtWithin && !decidedOn(e.time))
    .map(({ time, levelDb, excess }) => ({
      piece,
      time,
      levelDb,
      excess,
      taken: strokeAt(hits, piece, time) >= 0,
    }))
    .sort((a, b) => Math.abs(a.excess - limit) - Math.abs(b.excess - limit));
}
