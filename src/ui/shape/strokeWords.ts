import type { PictureOf, ProcessorType } from "../../core/processor";
import type { StrokeEffect } from "../../core/shape/hitReductions";
import { medianOr } from "../shared/medianOr";
import { signed } from "../shared/format";

/** From this much on a stroke counts as touched, dB: less is not heard. */
export const touchedFrom = 0.1;

/** "6 of 148 strokes, 2.1 dB at most". */
function touched(reductions: readonly number[]): string {
  const count = reductions.filter((r) => r >= touchedFrom).length;
  if (count === 0) return `none of ${reductions.length} strokes touched`;
  return `${count} of ${reductions.length} strokes touched, ${Math.max(...reductions).toFixed(1)} dB at most`;
}

/** "the ring dies in 0.31 s rather than 0.82 s". */
const rings = (before: number, after: number | null): string =>
  after === null
    ? `the ring lasted ${before.toFixed(2)} s and is gone among the rest`
    : `the ring dies in ${after.toFixed(2)} s rather than ${before.toFixed(2)} s`;

/** What a processor changes, dB, told once for headlines, cards and warnings. */
export interface EffectFigures {
  /** Reduction of the strokes in the middle. */
  readonly reduction: number;
  /** Change of every stroke's peak, in the middle and the furthest from none. */
  readonly peaks: number;
  readonly most: number;
  readonly louder: number;
  readonly small: number;
  readonly bleed: number;
  /** By how much the strokes got louder than their peaks: what rounding gives back. */
  readonly room: number;
}

export function figuresOf(e: StrokeEffect): EffectFigures {
  // Stroke by stroke: the middle of all peaks may stand still while the loudest are cut.
  const changes = e.peakAfter.map((after, i) => after - e.peakBefore[i]!);
  const peaks = medianOr(changes, 0);
  const louder = e.loudnessAfter.whole - e.loudnessBefore.whole;
  return {
    reduction: medianOr(e.reductionDb, 0),
    peaks,
    most: changes.reduce((far, c) => (Math.abs(c) > Math.abs(far) ? c : far), 0),
    louder,
    small: e.loudnessAfter.small - e.loudnessBefore.small,
    bleed: e.betweenAfter - e.betweenBefore,
    room: louder - peaks,
  };
}

/** What the headline of a processor's picture says. */
export function effectWords(
  type: ProcessorType,
  picture: Extract<PictureOf, { over: "strokes" }>,
  e: StrokeEffect,
): string {
  const f = figuresOf(e);
  const reductions = picture.shows === "reductions";
  return [
    ...(reductions ? [`median ${f.reduction.toFixed(1)} dB of reduction`] : []),
    ...(type.meters && !reductions ? [touched(e.reductionDb)] : []),
    `peaks ${signed(f.peaks, 1)} dB in the middle, ${signed(f.most, 1)} at most; loudness ${signed(f.louder, 1)} dB; bleed between strokes ${signed(f.bleed, 1)} dB`,
    ...(type.purpose === "colour" && f.room > 0.3
      ? [`rounding gives back ${f.room.toFixed(1)} dB of peak at the same loudness`]
      : []),
    ...(picture.ring && e.ringBefore !== null ? [rings(e.ringBefore, e.ringAfter)] : []),
    ...(picture.small ? [`on a small speaker ${signed(f.small, 1)} dB`] : []),
  ].join("; ");
}
