import { resolveParams } from "../params";
import { designEq, eqParams } from "../processors/eq/eq";
import { thirdOctaves } from "../measure/thirdOctaves";
import { responseDb } from "../signal/biquad";
import { addedProcessor } from "../song/chainEdits";
import type { Operation } from "../song/operations";
import type { Bus, ProcessorState } from "../song/song";
import type { Fitted } from "./kitFinish";

type Params = ProcessorState["params"];

/** Four broad bands: weight, body, presence and air of a whole kit. Figures are common practice, no source. */
const broad: Params = {
  lowShelfFrequency: 120,
  bell1Frequency: 350,
  bell1Q: 0.5,
  bell2Frequency: 2500,
  bell2Q: 0.5,
  highShelfFrequency: 8000,
};
export const broadGains = ["lowShelfGain", "bell1Gain", "bell2Gain", "highShelfGain"] as const;
/** A whole kit is bent no further by itself, dB (common practice, no source). */
export const mostBroad = 3;
/** What lies this far under the loudest band of a record tells nothing of its tone, dB. */
const heardUnder = 45;
const rounds = 3;
const fewestBands = 10;

const zeros = (): number[] => broadGains.map(() => 0);
const paramsWith = (gains: readonly number[]): Params => ({
  ...broad,
  ...Object.fromEntries(broadGains.map((name, i) => [name, gains[i]!])),
});
/** What an EQ does in the middle of every third octave, dB. */
function curve(gains: readonly number[], sampleRate: number): number[] {
  const sections = designEq(resolveParams(eqParams, paramsWith(gains)), sampleRate);
  return thirdOctaves.map((f) => responseDb(sections, Math.min(f, 0.45 * sampleRate), sampleRate));
}

/** What an EQ towards a record is, and what it brings. */
export interface BroadEq extends Fitted {
  /** Mean difference from the record by third octave, whatever the loudness, without and with it, dB. */
  readonly before: number;
  readonly after: number;
}

/**
 * Gains of four broad bands that bring a kit nearest to a record by third octave, each at most `mostBroad`, to a tenth of a dB; how loud either
 * is plays no part. Errors  RangeError in words where fewer than ten bands of both can be compared.
 * Shape  levels as `Tonality.bands`. Source  least squares by Gauss and Newton, since shelves and bells are nearly linear in their gain.
 */
export function broadEq(kit: readonly number[], record: readonly number[], sampleRate: number): BroadEq {
  const [kitTop, top] = [Math.max(...kit), Math.max(...record)];
  const used = thirdOctaves.flatMap((f, i) =>
    record[i]! > top - heardUnder && kit[i]! > kitTop - heardUnder && f < 0.45 * sampleRate ? [i] : [],
  );
  if (used.length < fewestBands)
    throw new RangeError("too little of the kit and the record can be compared by third octave");
  /** What is still missing with some gains, dB, its mean taken off. */
  const missing = (gains: readonly number[]): number[] => {
    const does = curve(gains, sampleRate);
    return centred(used.map((i) => record[i]! - kit[i]! - does[i]!));
  };
  let gains = zeros();
  for (let n = 0; n < rounds; n++) {
    const now = curve(gains, sampleRate);
    const slopes = broadGains.map((_, b) => {
      const moved = curve(
        gains.map((g, i) => (i === b ? g + 0.5 : g)),
        sampleRate,
      );
      return centred(used.map((i) => 2 * (moved[i]! - now[i]!)));
    });
    const step = leastSquares(slopes, missing(gains));
    gains = gains.map((g, b) => Math.max(-mostBroad, Math.min(mostBroad, g + step[b]!)));
  }
  gains = gains.map((g) => Math.round(10 * g) / 10 + 0);
  const apart = (v: readonly number[]) => v.reduce((sum, x) => sum + Math.abs(x), 0) / v.length;
  const [before, after] = [apart(missing(zeros())), apart(missing(gains))];
  const told = `mean difference from the record by third octave ${before.toFixed(1)} dB, with it ${after.toFixed(1)} dB`;
  return { params: paramsWith(gains), told, before, after };
}

/** Values about their mean. */
function centred(values: readonly number[]): number[] {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return values.map((v) => v - mean);
}

/** Weights of some rows that add up nearest to a wish. Source  normal equations by Gauss's elimination; a little weight on the size keeps it tame. */
function leastSquares(rows: readonly (readonly number[])[], wish: readonly number[]): number[] {
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i]!, 0);
  const m = rows.map((r, i) => [...rows.map((q, k) => dot(r, q) + (i === k ? 0.05 : 0)), dot(r, wish)]);
  const n = rows.length;
  for (let c = 0; c < n; c++)
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const by = m[r]![c]! / m[c]![c]!;
      for (let k = c; k <= n; k++) m[r]![k]! -= by * m[c]![k]!;
    }
  return m.map((row, i) => row[n]! / row[i]!);
}

/** The kit's EQ that was set by a record: it has the broad bands, whatever their gains; undefined: none is there. */
export const broadEqOf = (kit: Bus): ProcessorState | undefined =>
  kit.chain.find((p) => p.type === "eq" && Object.entries(broad).every(([name, v]) => p.params[name] === v));

/** Puts what was found into the kit's broad EQ, added to what that does already where it is on; where none is there, a new one comes first. */
export function putBroadEq(kit: Bus, { params, told }: BroadEq): Fitted & { readonly operation: Operation } {
  const there = broadEqOf(kit);
  if (!there) return { params, told, operation: addedProcessor(kit, "eq", 0, params).operation };
  const gains = broadGains.map((name) => {
    const sum = (params[name] as number) + (there.on ? (there.params[name] as number) : 0);
    return Math.round(10 * Math.max(-mostBroad, Math.min(mostBroad, sum))) / 10 + 0;
  });
  const set = paramsWith(gains);
  return {
    params: set,
    told,
    operation: { op: "setProcessor", owner: kit.id, processor: there.id, params: set, on: true },
  };
}
