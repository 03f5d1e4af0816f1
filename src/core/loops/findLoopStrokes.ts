import { gainToDb, quantile } from "../signal/level";
import type { Hit } from "../song/song";
import {
  bandCount,
  candidatesOf,
  featureCount,
  featuresAt,
  hopSeconds,
  loopLooks,
  type LoopLooks,
} from "./loopLooks";
import { loopDrums, type LoopDrum } from "./loopDrums";
import { askNet, type StrokeNet } from "./strokeNet";
import weights from "./loopStrokeWeights.json";
import type { Samples } from "../signal/samples";

/** A stroke that was told in a loop. */
export interface LoopStroke {
  readonly drum: LoopDrum;
  /** s from the loop's first frame. */
  readonly time: number;
  /** Peak of its rise in the drum's own bands, dBFS. */
  readonly levelDb: number;
  /** Probability, 0..1. */
  readonly sure: number;
}

export interface LoopStrokes {
  readonly strokes: readonly LoopStroke[];
  /** Instants at which something was struck that is none of the drums, s. */
  readonly strange: readonly number[];
}

/** From this probability on it is a stroke; within this of it nobody is sure. */
const struckFrom = 0.5;
export const unsureWithin = 0.2;
/** Two strokes of one drum are no nearer than this, s. */
const leastApart = 0.04;
/** A rise of all bands that is at least this and of no drum is a stroke of something else, dB. */
const strangeRise = 7;

/** Bands in which the strokes of a drum are told from each other in level. */
const ownBands: Readonly<Record<LoopDrum, readonly [number, number]>> = {
  kick: [0, 3],
  snare: [3, 14],
  hat: [16, bandCount],
};

const energy = ({ levels }: LoopLooks, t: number, [from, to]: readonly [number, number]): number => {
  let sum = 0;
  for (let b = from; b < to; b++) sum += 10 ** (levels[t * bandCount + b]! / 10);
  return sum;
};

/** Loudest of the bands within 30 ms behind an instant. */
function levelAt(looks: LoopLooks, t: number, bands: readonly [number, number]): number {
  let most = 0;
  for (let u = t; u < Math.min(looks.looks, t + 7); u++) most = Math.max(most, energy(looks, u, bands));
  return gainToDb(Math.sqrt(most));
}

/** Strokes of one drum that are no nearer than they can be, the surer ones kept. */
function apartOnly(strokes: readonly LoopStroke[]): LoopStroke[] {
  const bySure = [...strokes].sort((a, b) => b.sure - a.sure);
  const kept: LoopStroke[] = [];
  for (const s of bySure) if (kept.every((k) => Math.abs(k.time - s.time) >= leastApart)) kept.push(s);
  return kept.sort((a, b) => a.time - b.time);
}

/** Rise of the whole at an instant, mean of the bands, dB. */
function riseAt({ levels, looks }: LoopLooks, t: number): number {
  let sum = 0;
  for (let b = 0; b < bandCount; b++) {
    const was = Math.max(-60, levels[Math.max(0, t - 3) * bandCount + b]!);
    sum += Math.max(0, Math.max(-60, levels[Math.min(looks - 1, t + 3) * bandCount + b]!) - was);
  }
  return sum / bandCount;
}

/**
 * Strokes of kick, snare and hat in a baked loop: a small network judges every instant at which something rises by the levels around it in 22
 * bands. It was fitted on loops mixed from sessions with known truth (tools/trainLoopStrokes.ts).
 * Shape  channels [channel][frame].
 */
export function findLoopStrokes(
  channels: readonly Samples[],
  sampleRate: number,
  net: StrokeNet = weights,
): LoopStrokes {
  const looks = loopLooks(channels, sampleRate);
  const candidates = candidatesOf(looks);
  const x = new Float32Array(featureCount);
  const said = candidates.map((t) => {
    featuresAt(looks, t, x);
    return askNet(net, x);
  });
  const strokes = loopDrums.flatMap((drum, k) =>
    apartOnly(
      candidates.flatMap((t, i): LoopStroke[] => {
        const sure = said[i]![k]!;
        const levelDb = levelAt(looks, t, ownBands[drum]);
        return sure > struckFrom ? [{ drum, time: t * hopSeconds, levelDb, sure }] : [];
      }),
    ),
  );
  const strange = candidates
    .filter((t, i) => said[i]!.every((p) => p < struckFrom - unsureWithin) && riseAt(looks, t) > strangeRise)
    .map((t) => t * hopSeconds);
  return { strokes: strokes.sort((a, b) => a.time - b.time), strange };
}

/** A stroke this far under its drum's usual loud ones is a ghost note, dB (common practice, no source). */
const ghostUnder = 12;

/** Strokes of a loop as those of a song. `start`: s of the song at which the loop begins. */
export function hitsOfLoop({ strokes }: LoopStrokes, start: number): Hit[] {
  const loud = new Map(
    loopDrums.map((drum) => {
      const levels = strokes.filter((s) => s.drum === drum).map((s) => s.levelDb);
      return [drum, levels.length > 0 ? quantile(levels, 0.8) : 0] as const;
    }),
  );
  return strokes.map(({ drum, time, levelDb, sure }) => ({
    piece: drum,
    time: start + time,
    levelDb,
    ghost: drum === "snare" && levelDb < loud.get(drum)! - ghostUnder,
    kind: "stroke",
    sure,
  }));
}
