import { powerToDb, quantile } from "../signal/level";
import type { MicSound } from "./micSounds";
import weights from "./soundWeights.json";

/** What a mic may be by its sound; idle: a close mic whose drum is not struck. */
export const kinds = ["kick", "snare", "tom", "hat", "ride", "overhead", "room", "idle"] as const;
export type Kind = (typeof kinds)[number];

const power = (db: readonly number[]): number => powerToDb(db.reduce((s, v) => s + 10 ** (v / 10), 1e-20));
export const highOf = (s: MicSound): number => power([s.shares[4]!, s.shares[5]!]);

const clip = (x: number, low: number, high: number): number =>
  Math.min(high, Math.max(low, Number.isFinite(x) ? x : low));

/** Quantiles of some values; the low limit when there are none. */
const spread = (list: readonly number[], low: number): number[] =>
  [0.2, 0.5, 0.8].map((q) => (list.length === 0 ? low : clip(quantile(list, q), low, 6)));

/** What tells a mic's kind: its own events, how they are heard elsewhere, and how it hears the others'. */
export function soundFeatures(sounds: readonly MicSound[], i: number, stereo: boolean): Float64Array {
  const s = sounds[i]!;
  const others = sounds.flatMap((o, j) =>
    j === i || o.events.length === 0 ? [] : [{ mine: s.heardIn[j]!, theirs: o.heardIn[i]! }],
  );
  const both = others.map((o) => Math.min(o.mine, o.theirs));
  const lead = others.map((o) => o.theirs - o.mine);
  const shares = s.shares.map((v) => clip(v, -40, 0));
  return Float64Array.from([
    ...shares,
    clip(highOf(s), -40, 0),
    shares[0]! - shares[1]!,
    Math.log(clip(s.decay, 0.01, 3)),
    Math.log(clip(s.rate, 0.01, 20)),
    Math.log(clip(s.fundamental, 35, 450) / 100),
    clip(s.floorDb, -90, 0),
    ...spread(
      others.map((o) => o.theirs),
      -60,
    ),
    ...spread(
      others.map((o) => o.mine),
      -60,
    ),
    ...spread(lead, -60),
    clip(Math.max(-60, ...both), -60, 6),
    clip(s.varied, 0, 20),
    clip(1000 * s.late, -6, 20),
    stereo ? 1 : 0,
  ]);
}

/** A linear model over values, their bends, and their squares: one row of weights a kind, the last the bias. */
export interface SoundModel {
  readonly mean: readonly number[];
  readonly scale: readonly number[];
  readonly rows: Readonly<Record<Kind, readonly number[]>>;
}

/** Values as the model takes them: standardised, then their squares. */
export function expanded(
  { mean, scale }: Pick<SoundModel, "mean" | "scale">,
  values: ArrayLike<number>,
): Float64Array {
  const n = mean.length;
  const out = new Float64Array(2 * n + 1);
  for (let f = 0; f < n; f++) {
    const v = clip((values[f]! - mean[f]!) / scale[f]!, -3, 3);
    out[f] = v;
    out[n + f] = v * v - 1;
  }
  out[2 * n] = 1;
  return out;
}

/**
 * Probability of every kind for one mic, as natural logarithm.
 * Source  multinomial logistic regression, fitted by tools/trainLabels.ts; weights and their origin in soundWeights.json.
 */
export function kindOdds(
  values: ArrayLike<number>,
  model: SoundModel = weights as unknown as SoundModel,
): Record<Kind, number> {
  const x = expanded(model, values);
  const z = kinds.map((k) => model.rows[k].reduce((s, w, f) => s + w * x[f]!, 0));
  const top = Math.max(...z);
  const sum = Math.log(z.reduce((s, v) => s + Math.exp(v - top), 0)) + top;
  return Object.fromEntries(kinds.map((k, n) => [k, z[n]! - sum])) as Record<Kind, number>;
}
