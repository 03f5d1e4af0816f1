import type { Facts } from "../facts/facts";
import { median } from "../signal/level";
import { farPieces, isDrum, mainMic, type Mic, type Piece, type Song } from "../song/song";

/** Where a mic should stand, and why. */
export interface AlignTarget {
  readonly polarity: 1 | -1;
  /** Frames, later positive. */
  readonly delay: number;
  /** What it is brought in phase with, in words. */
  readonly toward: string;
  /** Gain of the low end of the sum with its main mic, dB; null where that is not the measure. */
  readonly gainDb: number | null;
  /** 0..1. */
  readonly confidence: number;
}

type Arrivals = Facts["arrivals"];
/** How far the delays of the delay processor reach, frames. */
const reach = 2400;
/**
 * Whole frames are proposed: then nothing is interpolated, the recording stays as it is to the bit, and half a frame (3.6 mm of
 * way) is about as finely as delays can be measured on foreign recordings. A fraction can be set by hand.
 */
const bounded = (delay: number): number => Math.round(Math.max(-reach, Math.min(reach, delay)));

const signOf = (votes: readonly { polarity: 1 | -1; confidence: number }[]): 1 | -1 =>
  votes.reduce((sum, v) => sum + v.polarity * v.confidence, 0) < 0 ? -1 : 1;

/**
 * Polarity of every far mic and of every drum's main mic against the kit: of a far mic by most of the drums in it, of a
 * drum by the far mics once these are right.
 */
export function polarities(
  mics: readonly Mic[],
  arrivals: Arrivals,
): { far: ReadonlyMap<string, 1 | -1>; drums: ReadonlyMap<Piece, 1 | -1> } {
  const far = new Map<string, 1 | -1>();
  for (const mic of mics)
    if (farPieces.includes(mic.piece) && (arrivals[mic.id]?.length ?? 0) > 1)
      far.set(mic.id, signOf(arrivals[mic.id]!));
  const drums = new Map<Piece, 1 | -1>();
  for (const piece of new Set(Object.values(arrivals).flatMap((list) => list.map((a) => a.piece)))) {
    const votes = [...far].flatMap(([id, sign]) =>
      arrivals[id]!.filter((a) => a.piece === piece).map((a) => ({
        polarity: (a.polarity * sign) as 1 | -1,
        confidence: a.confidence,
      })),
    );
    if (votes.length > 0) drums.set(piece, signOf(votes));
  }
  return { far, drums };
}

/** Frames after its main mic at which a drum arrives in the overheads, median over their channels; null: not known. */
export function overheadArrival(mics: readonly Mic[], arrivals: Arrivals, piece: Piece): number | null {
  const delays = mics
    .filter((m) => m.piece === "overhead")
    .flatMap((m) => (arrivals[m.id] ?? []).filter((a) => a.piece === piece).map((a) => a.delaySamples));
  return delays.length > 0 ? median(delays) : null;
}

/** Frames after the overheads at which a far mic hears the kit: the median over the drums. */
export function behindOverheads(mics: readonly Mic[], arrivals: Arrivals, id: string): number | null {
  const behind = (arrivals[id] ?? []).flatMap((a) => {
    const over = overheadArrival(mics, arrivals, a.piece);
    return over === null ? [] : [a.delaySamples - over];
  });
  return behind.length > 0 ? median(behind) : null;
}

/**
 * Where every mic should stand under the song's choice of an anchor. Mics without enough evidence, locked ones, and those that
 * are right by definition are not in it.
 * Shape   by mic id.
 */
export function alignTargets(song: Song, facts: Facts): ReadonlyMap<string, AlignTarget> {
  const { mics, align, sampleRate } = song;
  const { arrivals, pairs } = facts;
  const signs = polarities(mics, arrivals);
  const targets = new Map<string, AlignTarget>();
  const set = (mic: Mic, target: AlignTarget) => {
    if (!mic.locked && !mic.silent) targets.set(mic.id, { ...target, delay: bounded(target.delay) });
  };
  /** What a drum's main mic is moved by. */
  const mainMove = (piece: Piece): { delay: number; polarity: 1 | -1 } => ({
    delay: align.anchor === "overheads" ? (overheadArrival(mics, arrivals, piece) ?? 0) : 0,
    polarity: signs.drums.get(piece) ?? 1,
  });
  for (const mic of mics) {
    const pair = pairs[mic.id];
    const main = mics.find((m) => m.id === mic.reference);
    if (main && pair && !pair.thin) {
      const moved = mainMove(main.piece);
      set(mic, {
        polarity: (pair.polarity * moved.polarity) as 1 | -1,
        delay: moved.delay - pair.delaySamples,
        toward: main.file,
        gainDb: pair.gainDb,
        confidence: pair.confidence,
      });
    } else if (isDrum(mic.piece) && mainMic(mics, mic.piece) === mic) {
      const moved = mainMove(mic.piece);
      const known = overheadArrival(mics, arrivals, mic.piece) !== null;
      if (moved.polarity === -1 || (align.anchor === "overheads" && known))
        set(mic, { ...moved, toward: "the overheads", gainDb: null, confidence: 0.9 });
    } else if (signs.far.has(mic.id)) {
      const behind = mic.piece === "room" ? behindOverheads(mics, arrivals, mic.id) : null;
      const pulled = align.rooms !== null && behind !== null;
      const delay = pulled ? (align.rooms! / 1000) * sampleRate - behind : 0;
      const polarity = signs.far.get(mic.id)!;
      if (polarity === -1 || pulled)
        set(mic, {
          polarity,
          delay,
          toward: pulled ? "the overheads" : "the drums",
          gainDb: null,
          confidence: 0.9,
        });
    }
  }
  return targets;
}
