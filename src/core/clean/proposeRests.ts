import { isCymbal } from "../hits/ownBands";
import type { Proposal } from "../song/proposal";
import { median } from "../signal/level";
import { pieceNames } from "../song/pieceNames";
import { usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import type { Hit, Piece, Song } from "../song/song";

/** How far a resting cymbal's mic is turned down, dB (common practice, no source). */
const range = 18;
/** It rests when no stroke comes for so many of its usual gaps, within these, s: a groove of quarters stays whole. */
const rests = { gaps: 1.25, least: 0.3, most: 1 } as const;
/** From so many strokes of others while it rests on, its mic is worth turning down; so many of its own are known. */
const fewest = 8;

/** How long a cymbal must be silent to be at rest, s, to 10 ms. Shape  its strokes' times, s. */
export function restOf(times: readonly number[]): number {
  const sorted = [...times].sort((a, b) => a - b);
  const gaps = sorted.slice(1).map((t, i) => t - sorted[i]!);
  const usual = gaps.length > 0 ? median(gaps) : rests.most;
  return Math.round(100 * Math.min(rests.most, Math.max(rests.least, rests.gaps * usual))) / 100;
}

/** So soon before a stroke of its own a cymbal's mic is open already, s. */
const opensBefore = 0.1;

/** Strokes of other cymbals while one rests, for so many seconds, ascending. Shape  hits in any order. */
export function strokesInRests(hits: readonly Hit[], piece: Piece, rest: number): Hit[] {
  const sorted = hits.filter((h) => isCymbal(h.piece)).sort((a, b) => a.time - b.time);
  const own = sorted.filter((h) => h.piece === piece).map((h) => h.time);
  let next = 0;
  return sorted.filter((h) => {
    if (h.piece === piece) return false;
    // The last of its own that counts as before this one: both lists are passed once.
    while (next < own.length && own[next]! < h.time + opensBefore) next++;
    return next === 0 || own[next - 1]! <= h.time - rest;
  });
}

/**
 * A cymbal's own mic is turned down where the cymbal rests and others are played: they would be heard from where that mic is placed, not from
 * where the overheads put them. Its strokes open it, those that are not found stay in the overheads.
 */
export function proposeRests(song: Song): Proposal[] {
  return song.mics.flatMap((m): Proposal[] => {
    if (!isCymbal(m.piece) || !usable(m)) return [];
    const strokes = song.hits.filter((h) => h.piece === m.piece).map((h) => h.time);
    const rest = restOf(strokes);
    const others = strokesInRests(song.hits, m.piece, rest);
    if (strokes.length < fewest || others.length < fewest) return [];
    const names = [...new Set(others.map((h) => pieceNames[h.piece].toLowerCase()))].sort().join(" and ");
    return [
      {
        id: `rest:${m.id}`,
        step: "clean",
        owner: m.id,
        sentence: `Turn ${m.file} down where the ${pieceNames[m.piece].toLowerCase()} rests for ${rest} s: it hears ${others.length} strokes of ${names} there, away from their place in the overheads.`,
        figure: `−${range} dB at rest`,
        operation: putProcessor(
          m,
          "gate",
          { opens: "hits", range, attack: 0.002, hold: rest, release: 0.25, lookahead: 0.005 },
          true,
        ),
      },
    ];
  });
}
