import { powerOfTwo } from "../signal/fft";
import { bandLooks } from "./bandLooks";
import type { Samples } from "../signal/samples";

/** From one look to the next, s. */
export const hopSeconds = 0.005;
/** What one look takes in, s. */
const lookSeconds = 0.021;
/** Edges of the bands, Hz: three an octave, two below 120. */
const edges = [
  0, 60, 120, 180, 250, 320, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300, 8000,
  10000, 12500, 22000,
];
export const bandCount = edges.length - 1;

/** Energy of a loop by band at every hop, dB against its loudest moments. */
export interface LoopLooks {
  /** [look * bandCount + band]. */
  readonly levels: Float32Array;
  readonly looks: number;
  /** What a band reaches at its loudest, dB against the whole. */
  readonly loud: readonly number[];
}

/** Nothing lies lower, dB. */
const floorDb = -80;

/** How a loop sounds, look by look, every 5 ms. */
export function loopLooks(channels: readonly Samples[], sampleRate: number): LoopLooks {
  const size = Math.max(64, powerOfTwo(Math.round(lookSeconds * sampleRate)));
  const bins = edges.map((f) => Math.round((f * size) / sampleRate));
  const layout = { sampleRate, size, hop: hopSeconds * sampleRate, edges: bins };
  const { energies, looks } = bandLooks(channels, layout);
  const whole = new Float64Array(looks);
  energies.forEach((v, i) => (whole[Math.floor(i / bandCount)]! += v));
  const loudest = Math.max(1e-20, top(whole));
  const levels = Float32Array.from(energies, (v) => Math.max(floorDb, 10 * Math.log10(v / loudest + 1e-12)));
  const own = new Float64Array(looks);
  const loud = Array.from({ length: bandCount }, (_, b) => {
    for (let t = 0; t < looks; t++) own[t] = levels[t * bandCount + b]!;
    return top(own);
  });
  return { levels, looks, loud };
}
/** What the loudest hundredth reaches. */
const top = (values: Float64Array): number => {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(0.99 * (sorted.length - 1))] ?? 0;
};

/** Groups of bands whose rises are looked for apart: a hat is not lost under a kick. */
const groups = [
  [0, 3],
  [3, 9],
  [9, 16],
  [16, bandCount],
  [0, bandCount],
] as const;
/** Least mean rise of a group, dB, and least distance of two instants, looks. */
const leastRise = 1.6;
const apart = 3;
/** Below its loudest by more than this a band's rises count as nothing, dB. */
const range = 36;

/** Instants at which something may have been struck, as looks, ascending: many more than there are strokes. */
export function candidatesOf({ levels, looks, loud }: LoopLooks): number[] {
  const marked = new Uint8Array(looks);
  for (const [from, to] of groups) {
    const rise = new Float64Array(looks);
    for (let t = 2; t + 1 < looks; t++) {
      let sum = 0;
      for (let b = from; b < to; b++) {
        const least = loud[b]! - range;
        const was = Math.max(least, levels[(t - 2) * bandCount + b]!);
        sum += Math.max(0, Math.max(least, levels[(t + 1) * bandCount + b]!) - was);
      }
      rise[t] = sum / (to - from);
    }
    for (let t = 0; t < looks; t++) if (rise[t]! >= leastRise && isTop(rise, t)) marked[t] = 1;
  }
  // Rises of several groups at one stroke are one instant: the first stands for it.
  const found: number[] = [];
  for (let t = 0; t < looks; t++) if (marked[t] && t - (found.at(-1) ?? -apart) >= apart) found.push(t);
  return found;
}
function isTop(x: Float64Array, t: number): boolean {
  for (let u = Math.max(0, t - apart); u <= Math.min(x.length - 1, t + apart); u++)
    if (x[u]! > x[t]! || (x[u] === x[t] && u < t)) return false;
  return true;
}

/** Looks around an instant by which it is judged; the second tells what sounded before. */
const offsets = [-8, -5, -2, 0, 2, 4, 7, 11, 16, 24];
const earlier = 1;
/** Levels and rises are told within these, dB. */
const lowest = -60;
const rises = [-30, 40] as const;
/** Blocks of one value a band: levels around the instant, rises since what sounded before, how loud each band ever is. */
export const featureBlocks = { levels: offsets.length, rises: offsets.length - 2, loud: 1 } as const;
export const featureCount = (featureBlocks.levels + featureBlocks.rises + featureBlocks.loud) * bandCount;

/** What is told of one instant. Shape  out: `featureCount` values. */
export function featuresAt({ levels, looks, loud }: LoopLooks, at: number, out: Float32Array): void {
  const lookAt = (offset: number): number => Math.max(0, Math.min(looks - 1, at + offset)) * bandCount;
  const was = lookAt(offsets[earlier]!);
  let next = 0;
  for (const offset of offsets) {
    const t = lookAt(offset);
    for (let b = 0; b < bandCount; b++) out[next++] = Math.max(lowest, levels[t + b]!);
  }
  for (const offset of offsets.slice(2)) {
    const t = lookAt(offset);
    for (let b = 0; b < bandCount; b++) {
      const rise = levels[t + b]! - Math.max(lowest - 10, levels[was + b]!);
      out[next++] = Math.min(rises[1], Math.max(rises[0], rise));
    }
  }
  for (let b = 0; b < bandCount; b++) out[next++] = loud[b]!;
}
