import { addedProcessor } from "../song/chainEdits";
import type { Owner } from "../song/graph";
import type { Operation } from "../song/operations";
import { designBell, responseDb } from "../signal/biquad";
import { bandCentres, erbNumber } from "./excitation";
import { keptAt, keptOver, turnedRound, type Changes, type Heard } from "./masking";

/** A cut in what covers and a lift in what is covered, at one place. */
export interface MirroredMove {
  /** Hz. */
  readonly frequency: number;
  readonly q: number;
  /** dB, 0 or below. */
  readonly cut: number;
  /** dB, 0 or above. */
  readonly lift: number;
}

/** Widths that are tried, and the most that is proposed of a cut and of a lift, dB; common practice, no source. */
const widths = [0.9, 1.4, 2.2];
const mostCut = 6;
/** A dB of a cut must bring back this much of the loudness. */
const worth = 0.004;
/** What covers loses by it, too: so much of that counts against it. Little, as the other is what shall be in front. */
const costs = 0.1;
/** A lift is half of the cut. */
const liftShare = 0.5;
/** Within so many bandwidths a loss counts to the same place. */
const spread = 2;
/** Strokes by which places are compared. */
const fewStrokes = 12;

/** What a move changes, by band. */
export function changesOf({ frequency, q, cut, lift }: MirroredMove, sampleRate: number): Changes {
  const at = (gain: number) => {
    const bell = designBell(frequency, gain, q, sampleRate);
    return bandCentres.map((f) =>
      gain === 0 ? 0 : responseDb([bell], Math.min(f, 0.49 * sampleRate), sampleRate),
    );
  };
  const [by, of] = [at(cut), at(lift)];
  return { of: (b) => of[b]!, by: (b) => by[b]! };
}

/** What is kept at the mean of the strokes: every stroke that gains counts, where the middle one may stand still. */
const meanKept = (heard: readonly Heard[], change?: Changes): number =>
  heard.reduce((sum, h) => sum + keptAt(h, change).whole, 0) / heard.length;

/** Middles that are tried: a bandwidth apart. */
const middles = bandCentres.filter((_, b) => b % 2 === 0);

/** The depth at one place and width whose gain is most beyond what its dB must be worth; null: none is worth it. */
function bestDepth(heard: readonly Heard[], at: Pick<MirroredMove, "frequency" | "q">, sampleRate: number) {
  const turned = turnedRound(heard);
  const [whole, beside] = [meanKept(heard), meanKept(turned)];
  let found: { move: MirroredMove; worth: number } | null = null;
  for (let cut = 1; cut <= mostCut; cut++) {
    const move = { ...at, cut: -cut, lift: liftShare * cut };
    const change = changesOf(move, sampleRate);
    const lost = beside - meanKept(turned, { of: (b) => change.by(b), by: (b) => change.of(b) });
    const beyond = meanKept(heard, change) - whole - worth * cut - costs * lost;
    if (beyond > (found?.worth ?? 0)) found = { move, worth: beyond };
  }
  return found;
}

/**
 * The mirrored move that brings most back over up to a dozen strokes, of all places, widths and depths, each dB
 * of the cut, and what the other loses by it, set against what comes back. Null: no cut is worth it.
 */
export function proposeMove(heard: readonly Heard[], sampleRate: number): MirroredMove | null {
  const some = heard.filter((_, i) => i % Math.ceil(heard.length / fewStrokes) === 0);
  const before = keptOver(some);
  // Where next to nothing is lost nothing can come back.
  const lost = before.bands.map((k, b) => (1 - k) * before.shares[b]!);
  let best: { move: MirroredMove; worth: number } | null = null;
  for (const middle of middles) {
    const near = lost.filter((_, b) => Math.abs(erbNumber(bandCentres[b]!) - erbNumber(middle)) <= spread);
    if (near.reduce((a, l) => a + l, 0) < worth) continue;
    const frequency = Number(middle.toPrecision(2));
    for (const q of widths) {
      const found = bestDepth(some, { frequency, q }, sampleRate);
      if (found && (!best || found.worth > best.worth)) best = found;
    }
  }
  return best?.move ?? null;
}

/** Deepest that something is keyed down, dB. */
export const mostDepth = 15;
const depthStep = 0.5;

/** By how much what covers must come down at one stroke so that the other keeps `wanted` of its loudness, dB, at most `mostDepth`. */
export function depthNeeded(heard: Heard, wanted: number): number {
  for (let depth = 0; depth < mostDepth; depth += depthStep)
    if (keptAt(heard, { of: () => 0, by: () => -depth }).whole >= wanted) return depth;
  return mostDepth;
}

/** A depth that is enough at nine of ten strokes, dB. */
export function depthFor(depths: readonly number[]): number {
  const sorted = [...depths].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(0.9 * sorted.length))] ?? 0;
}

/** The move as processors at the end of both chains: an EQ in what covers, and one in what is covered where it is lifted. */
export function mirrored(of: Owner, by: Owner, { frequency, q, cut, lift }: MirroredMove): Operation {
  const eq = (owner: Owner, gain: number): Operation[] =>
    gain === 0
      ? []
      : [
          addedProcessor(owner, "eq", undefined, { bell1Frequency: frequency, bell1Q: q, bell1Gain: gain })
            .operation,
        ];
  return { op: "several", operations: [...eq(by, cut), ...eq(of, lift)] };
}
