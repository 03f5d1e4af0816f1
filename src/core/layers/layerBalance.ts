import { designButterworth, filtered, type Section } from "../signal/biquad";
import { dbToGain, powerOf, powerToDb } from "../signal/level";

/** The parts of a drum's sound, between which mic and layer share it (common practice, no source), Hz. */
export const layerBands = [
  { id: "low", label: "Low end", from: 0, to: 150 },
  { id: "body", label: "Body", from: 150, to: 2000 },
  { id: "stick", label: "Stick and air", from: 2000, to: Infinity },
] as const;
export type LayerBandId = (typeof layerBands)[number]["id"];

/** What mic and layer give in one band over the strokes, behind their faders. */
export interface BandShare {
  readonly id: LayerBandId;
  /** Levels over the first 100 ms of the strokes, dBFS. */
  readonly micDb: number;
  readonly layerDb: number;
  /** Of both together: what the sum really gives, phase included. */
  readonly sumDb: number;
}
export interface LayerBalance {
  readonly bands: readonly BandShare[];
  readonly strokes: number;
}

const judgedSeconds = 0.1;
const settleSeconds = 0.05;

const passOf = ({ from, to }: (typeof layerBands)[number], sampleRate: number): Section[] => [
  ...(from > 0 ? designButterworth("high", from, 4, sampleRate) : []),
  ...(to < Infinity ? designButterworth("low", to, 4, sampleRate) : []),
];

/**
 * How much of a drum's low end, body and stick comes from its mic and how much from the layer, over the strokes.
 * Shape  main, layer [channel][frame] behind their chains, on one time line; times: strokes, s; gainsDb: what their faders add.
 */
export function layerBalance(
  main: readonly Float32Array[],
  layer: readonly Float32Array[],
  times: readonly number[],
  [mainDb, layerDb]: readonly [number, number],
  sampleRate: number,
): LayerBalance {
  const settle = Math.round(settleSeconds * sampleRate);
  const frames = Math.round(judgedSeconds * sampleRate);
  const gains = [dbToGain(mainDb), dbToGain(layerDb)];
  const cut = (channels: readonly Float32Array[], at: number, gain: number): Float32Array => {
    const y = new Float32Array(settle + frames);
    for (const x of channels)
      for (let i = 0; i < y.length; i++) y[i] = y[i]! + (gain / channels.length) * (x[at - settle + i] ?? 0);
    return y;
  };
  const sums = layerBands.map(() => [0, 0, 0]);
  for (const time of times) {
    const at = Math.round(time * sampleRate);
    const a = cut(main, at, gains[0]!);
    const b = cut(layer, at, gains[1]!);
    layerBands.forEach((band, k) => {
      const pass = passOf(band, sampleRate);
      const x = filtered(a, pass);
      const y = filtered(b, pass);
      sums[k]![0]! += powerOf(x, settle);
      sums[k]![1]! += powerOf(y, settle);
      sums[k]![2]! += powerOf(
        x.map((v, i) => v + y[i]!),
        settle,
      );
    });
  }
  const level = (sum: number) => powerToDb(sum / Math.max(1, times.length));
  const bands = layerBands.map(({ id }, k): BandShare => {
    const [mic, own, both] = sums[k] as [number, number, number];
    return { id, micDb: level(mic), layerDb: level(own), sumDb: level(both) };
  });
  return { bands, strokes: times.length };
}
