import { median, quantile } from "../signal/level";
import { isShell, type Piece } from "../song/song";
import { bands } from "./bandEnergies";
import type { Candidate } from "./candidates";
import { hitExcess } from "./evidence";

/** Share of a drum's incoming energy that every other mic gets, [mic][drum][band]. */
export type Bleed = readonly (readonly Float64Array[])[];

/**
 * What brings nothing into other mics: a mic that is no drum's own, or one that hears little but the others, as far as
 * is known at first.
 */
export type Quiet = "listener" | "suspect" | "no";

/** Energy that the other mics' strokes bring into a mic at an event; `but` is left out. */
export function predictBleed(c: Candidate, mic: number, but: number, k: number, bleed: Bleed): number {
  let predicted = 0;
  for (let other = 0; other < c.all.length; other++)
    if (other !== mic && other !== but) predicted += bleed[mic]![other]![k]! * c.all[other]![k]!;
  return predicted;
}

/**
 * Bleed of every mic into every other per band: the ratio of incoming energies over the events at which the other is
 * loud, a low quantile at first (most of them are no strokes of this drum), then a high one over known bleed only,
 * less what the estimate before explains by third drums.
 */
export function estimateBleed(
  pieces: readonly Piece[],
  candidates: readonly (readonly Candidate[])[],
  q: number,
  last: Bleed | null,
  quiet: readonly Quiet[],
): Bleed {
  const n = candidates.length;
  const played = candidates.map((list, m) =>
    last === null || quiet[m] === "listener"
      ? quiet[m] === "no"
      : list.some((c) => c.excess > hitExcess(pieces[m]!)),
  );
  const loud = candidates.map((list, m) =>
    Float64Array.from({ length: bands }, (_, k) =>
      quantile(
        list.map((c) => c.all[m]![k]!),
        0.92,
      ),
    ),
  );
  return candidates.map((list, mic) => {
    const struck = new Set(
      last
        ? list
            .filter((c) => c.excess > hitExcess(pieces[mic]!))
            .flatMap((c) => [-3, -2, -1, 0, 1, 2, 3].map((d) => c.column + d))
        : [],
    );
    return Array.from({ length: n }, (_, other) => {
      const gains = Float64Array.from({ length: bands }, (__, k) => {
        // A drum that is never struck brings nothing; what its mic hears are the others.
        if (other === mic || !played[other]) return 0;
        const ratios: number[] = [];
        const limit = loud[other]![k]! * 0.05;
        for (const c of candidates[other]!) {
          const theirs = c.all[other]![k]!;
          if (theirs < limit || theirs === 0 || struck.has(c.column)) continue;
          // What a third drum brings at the same instant (the hat on the kick) is not this one's bleed.
          const third = last ? predictBleed(c, mic, other, k, last) : 0;
          const here = c.all[mic]![k]!;
          ratios.push(Math.max(0.1 * here, here - third) / theirs);
        }
        return ratios.length >= 3 ? quantile(ratios, q) : NaN;
      });
      return capAcrossBands(gains);
    });
  });
}

/**
 * A drum that always sounds together with another one (hat and kick) looks like its bleed in its own bands, but not in
 * the others: there the true bleed shows, and bleed is alike in all bands within some dB. Bands without evidence take
 * the cap.
 */
function capAcrossBands(gains: Float64Array): Float64Array {
  const known = [...gains].filter((g) => Number.isFinite(g)).sort((a, b) => a - b);
  if (known.length === 0) return gains.fill(0);
  const cap = 4 * known[Math.min(1, known.length - 1)]!;
  return gains.map((g) => (Number.isFinite(g) ? Math.min(g, cap) : cap));
}

/** Share of the energy of the loud events of a mic from which an event counts as loud: 5 dB. */
const loudShare = 0.3;
/** How loud the others' loud strokes may be in the mic of a tom that is played, dB under its own loud ones. */
const bleedInTom = -8;

/**
 * Toms that are hardly played: in their mics the loud strokes of most other drums are nearly as loud as anything.
 * Such a mic brings nothing into others, however loudly it hears them.
 */
export function suspectToms(
  pieces: readonly Piece[],
  candidates: readonly (readonly Candidate[])[],
): boolean[] {
  const total = (e: Float64Array) => e.reduce((a, b) => a + b, 0);
  const loud = candidates.map((list, m) => {
    const sorted = list.map((c) => total(c.all[m]!)).sort((a, b) => b - a);
    return sorted[Math.min(3, sorted.length - 1)] ?? 0;
  });
  return pieces.map((piece, m) => {
    if (!isShell(piece) || piece === "kick" || piece === "snare") return false;
    const heard = candidates.flatMap((list, other) => {
      const strokes = list.filter((c) => total(c.all[other]!) > loudShare * loud[other]!);
      return other === m || strokes.length === 0 ? [] : [median(strokes.map((c) => total(c.all[m]!)))];
    });
    return heard.length > 2 && 10 * Math.log10(median(heard) / (loud[m]! + 1e-20)) > bleedInTom;
  });
}
