import { processChain } from "../engine/processChain";
import { gainToDb, median, peakOf, powerToDb } from "../signal/level";
import type { ProcessorState } from "../song/song";

/** How far the bleed lies under the strokes behind one processor of a chain. */
export interface BleedStage {
  /** Processor id; null: as recorded. */
  readonly processor: string | null;
  /** Mean level of the bleed between strokes less the strokes' middle peak, dB. */
  readonly bleedToHit: number;
}

/** How much of a song is looked at, s, and how many strokes and bleed events. */
const longest = 75;
const most = 60;
/** What moves a mic without changing its sound. */
const placing: readonly string[] = ["pan", "delay", "polarity"];
/** From a stroke on its peak is looked for, and bleed is measured, s. */
const peakWithin = 0.02;
const bleedWithin = 0.06;

/** dB by which a processor may lift the bleed against the strokes before it is worth a warning. */
export const worthAWarning = 6;

/**
 * What every processor of a mic's chain does to its bleed: the ratio of bleed to strokes as recorded and behind each one
 * that is on. A gate lowers it, a compressor lifts it again.
 * `cancelled`: the mic behind its cancelling, where that is on.
 * Shape   onsets in frames of the recording; `bleed`: instants of other drums' strokes that no own one covers. Null: no
 *         strokes or no bleed within the first 75 s.
 */
export function bleedAlongChain(
  chain: readonly ProcessorState[],
  input: readonly Float32Array[],
  strokes: readonly number[],
  hits: Float64Array,
  bleed: readonly number[],
  sampleRate: number,
  cancelled: readonly Float32Array[] | null = null,
): BleedStage[] | null {
  const frames = Math.min(input[0]!.length, Math.round(longest * sampleRate));
  const x = input.map((c) => c.subarray(0, frames));
  const within = (list: readonly number[]) =>
    list.filter((f) => f >= 0 && f + bleedWithin * sampleRate < frames).slice(0, most);
  const [own, others] = [within(strokes), within(bleed)];
  if (own.length === 0 || others.length === 0) return null;
  const ratio = (y: Float32Array): number => {
    const peaks = own.map((f) => gainToDb(peakOf(y, Math.round(f), Math.round(f + peakWithin * sampleRate))));
    let sum = 0;
    let count = 0;
    for (const f of others)
      for (let i = Math.round(f); i < Math.round(f + bleedWithin * sampleRate); i++, count++)
        sum += y[i]! * y[i]!;
    return powerToDb(sum / count) - median(peaks);
  };
  const stages: BleedStage[] = [{ processor: null, bleedToHit: ratio(x[0]!) }];
  let sound: readonly Float32Array[] = x;
  for (const p of chain.filter((c) => c.on && !placing.includes(c.type))) {
    if (p.type === "cancel") {
      if (!cancelled) continue;
      sound = cancelled.map((c) => c.subarray(0, frames));
    } else sound = processChain([p], sound, sampleRate, Float64Array.from(hits));
    stages.push({ processor: p.id, bleedToHit: ratio(sound[0]!) });
  }
  return stages;
}
