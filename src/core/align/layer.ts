import type { LayerTiming } from "../facts/layerTiming";
import { findStart, onsetSignals } from "../hits/onset";
import { median, peakOf } from "../signal/level";
import { plainEdits, seamsOf } from "../tighten/joints";
import type { Edit, Hit, Piece } from "../song/song";
import type { Samples } from "../signal/samples";

/** How far a stroke of a layer may stray, s, and what it must reach of the layer's peak to be one. */
const furthest = 0.03;
const leastPeak = 0.02;
/** Strays in the middle under which one delay for all is good enough, s. */
const steadyEnough = 0.0003;

/**
 * Measures a layer of one-shots stroke by stroke against the drum it doubles.
 * Shape   x from the song's first frame on; `delay` in s: what the layer is late by in the middle. Null: too few strokes,
 *         or one delay fits them all.
 */
export function measureLayer(
  x: Samples,
  hits: readonly Hit[],
  piece: Piece,
  delay: number,
  sampleRate: number,
): LayerTiming | null {
  const signals = onsetSignals(x, piece, sampleRate);
  const peak = peakOf(x);
  const found = hits
    .filter((h) => h.piece === piece)
    .flatMap((h) => {
      const around = (h.time + delay) * sampleRate;
      const reach = furthest * sampleRate;
      const from = Math.max(0, Math.round(around - reach));
      const near = x.subarray(from, Math.min(x.length, Math.ceil(around + reach)));
      let loudest = Math.round(around) - from;
      for (let i = 0; i < near.length; i++)
        if (Math.abs(near[i]!) > Math.abs(near[loudest] ?? 0)) loudest = i;
      if (Math.abs(near[loudest] ?? 0) < leastPeak * peak) return [];
      const late = findStart(signals, from + loudest, sampleRate) / sampleRate - h.time - delay;
      return Math.abs(late) < furthest ? [{ time: h.time, late }] : [];
    });
  if (found.length < 4) return null;
  const middle = median(found.map((f) => f.late));
  const strays = found.map((f) => f.late - middle);
  if (median(strays.map(Math.abs)) < steadyEnough) return null;
  return { times: found.map((f) => f.time), strays };
}

/**
 * Cuts of a layer alone that bring each of its strokes to the drum's: what strays is moved back, and what lies between
 * two strokes goes with the first of them.
 * Shape   `delay` in s as for `measureLayer`. Edits in the layer's recorded time, ascending.
 */
export function layerEdits({ times, strays }: LayerTiming, delay: number, sampleRate: number): Edit[] {
  const moves = times.map((t, i) => {
    const time = t + delay + strays[i]!;
    return {
      group: { time, from: time, to: time, leads: [], all: [] },
      offset: strays[i]!,
      shift: -strays[i]!,
    };
  });
  return plainEdits(seamsOf(moves, sampleRate), sampleRate);
}
