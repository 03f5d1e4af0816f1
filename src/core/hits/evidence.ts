import { median } from "../signal/level";
import { isShell, type Piece } from "../song/song";
import { bands } from "./bandEnergies";
import { predictBleed, type Bleed } from "./bleed";
import type { Candidate } from "./candidates";
import { isCymbal, ownBands } from "./ownBands";

/** dB over predicted bleed from which an event counts as a stroke; cymbals rise less over what still rings, toms beat. */
export const hitExcess = (piece: Piece): number =>
  isCymbal(piece) ? 3.5 : piece === "kick" || piece === "snare" ? 7.5 : 8.5;
/** Where the excess of one band stops counting, dB: nothing can be proved more, nor be disproved more, by one band. */
const bandLimits = [-10, 25] as const;
/** A tom's attack counts for more: its body beats long after the stroke, its attack does not. dB. */
const tomAttackLead = 3;
/** dB under the drum's clear strokes at which a band holds nothing of a stroke; ghost notes lie lower. */
const absentBelow = (piece: Piece): number => (piece === "snare" ? 39 : isCymbal(piece) ? 16 : 18);
/** Excess from which an event is a clear stroke, dB. */
const clearExcess = 10;

/** Median energy that a drum's clear strokes bring, by band; zeros when there are too few. */
export function clearStrokeEnergy(candidates: readonly Candidate[]): Float64Array {
  const clear = candidates.filter((c) => c.excess > clearExcess);
  return Float64Array.from({ length: bands }, (_, k) =>
    clear.length < 2 ? 0 : median(clear.map((c) => c.own[k]!)),
  );
}

const clip = (db: number): number => Math.min(bandLimits[1], Math.max(bandLimits[0], db));

/**
 * How far in dB an event stands over the bleed that the other mics predict. A stroke comes with body and attack: bands
 * in which nothing rises speak against it, unless others mask them. -60: no stroke.
 * Shape   `floor` and `clear` by band: the mic's own noise, and the energy of the drum's clear strokes.
 */
export function excessOf(
  c: Candidate,
  piece: Piece,
  mic: number,
  bleed: Bleed,
  floor: Float64Array,
  clear: Float64Array,
): number {
  const over = (k: number): number =>
    clip(10 * Math.log10((c.own[k]! + 1e-14) / (floor[k]! + predictBleed(c, mic, -1, k, bleed) + 1e-14)));
  const share = 10 ** (-absentBelow(piece) / 10);
  const there = Array.from({ length: bands }, (_, k) => c.own[k]! > 0 && c.own[k]! >= share * clear[k]!);
  const attackBands = there.slice(3).filter(Boolean).length;
  const bodyBands = there.slice(0, 3).filter(Boolean).length;
  if (isCymbal(piece)) {
    // Partials of a ringing cymbal beat one by one; the stick makes all of them rise.
    if (piece !== "hat" && attackBands < 2) return -60;
    const best = (list: readonly number[]) => Math.max(...list.map(over));
    const own = ownBands(piece);
    const [body, attack] = [best(own.body), best(own.attack)];
    return Math.min(0.5 * (body + attack), body + 4, attack + 4);
  }
  // A tail that beats, or the wash of a cymbal, swells in some bands; a stroke begins in many.
  if (attackBands < 2 || (bodyBands < 1 && attackBands < 3)) return -60;
  const all = Array.from({ length: bands }, (_, k) => over(k));
  const best = [...all].sort((a, b) => b - a);
  const excess = (best[0]! + best[1]! + best[2]!) / 3;
  if (!isShell(piece) || piece === "kick" || piece === "snare") return excess;
  const attack = all.slice(3).sort((a, b) => b - a)[1]!;
  return Math.min(excess, attack + tomAttackLead);
}
