import { isCymbal } from "../ownBands";
import type { Explained, Source } from "./explained";
import { addRhythm } from "./strokeFeatures";
import weights from "./strokeWeights.json";

/** Sources that are judged alike; cymbals without a mic of their own each by how the overheads hear them. */
export type Family = "kick" | "snare" | "tom" | "hat" | "cymbal" | "farHat" | "farRide" | "farCrash";
export const families: readonly Family[] = [
  "kick",
  "snare",
  "tom",
  "hat",
  "cymbal",
  "farHat",
  "farRide",
  "farCrash",
];
export const familyOf = (source: Source, hasMic: boolean): Family => {
  if (!hasMic) return source === "hat" ? "farHat" : source === "crash" ? "farCrash" : "farRide";
  if (source === "kick" || source === "snare" || source === "hat") return source;
  return isCymbal(source) ? "cymbal" : "tom";
};

/** An additive logistic model: every value adds a line with bends at its knots. */
export interface Additive {
  readonly bias: number;
  /** By value: where the line bends, and the weight of the value itself and of what lies over each knot. */
  readonly terms: readonly { readonly knots: readonly number[]; readonly weights: readonly number[] }[];
}
/** Before and after the rhythm of the other strokes is known. */
export interface StrokeModel {
  readonly first: Additive;
  readonly second: Additive;
}

/** Odds of a stroke as natural logarithm. */
export function logOdds({ bias, terms }: Additive, values: ArrayLike<number>): number {
  let sum = bias;
  terms.forEach(({ knots, weights: w }, f) => {
    const v = values[f]!;
    sum += w[0]! * v;
    for (let n = 0; n < knots.length; n++) if (v > knots[n]!) sum += w[n + 1]! * (v - knots[n]!);
  });
  return sum;
}
export const probability = (odds: number): number => 1 / (1 + Math.exp(-odds));

/** Odds where nothing speaks for a stroke. */
const hopeless = -12;

const models = weights as unknown as Readonly<Record<Family, StrokeModel>>;

/**
 * Odds (natural logarithm) that a piece is struck at every instant.
 * Shape   features of the piece's source, a row an instant, none where it is hopeless (strokeFeatures); their rhythm is filled in.
 * Source  additive logistic regression on what the prints explain, fitted by tools/trainStrokes.ts; weights and their origin in
 *         strokeWeights.json.
 */
export function strokeOdds(
  prints: Explained,
  piece: Source,
  features: readonly Float64Array[],
  by: Readonly<Record<Family, StrokeModel>> = models,
): Float64Array {
  const { first, second } = by[familyOf(piece, prints.pieces.includes(piece))];
  const { hop } = prints.rows[0]!.energies;
  const times = Array.from(prints.instants.columns, (column) => column * hop);
  addRhythm(
    features,
    times,
    features.map((f) => (f.length === 0 ? 0 : probability(logOdds(first, f)))),
  );
  return Float64Array.from(features, (f) => (f.length === 0 ? hopeless : logOdds(second, f)));
}
