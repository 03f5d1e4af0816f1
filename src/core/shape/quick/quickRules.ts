import type { AnyValues } from "../../params";
import {
  quickControls,
  type QuickBasis,
  type QuickControl,
  type QuickState,
  type QuickValues,
} from "../../song/song";

/** Processors that the quick controls drive, in the order in which they stand at the end of a chain. */
export const quickTypes = ["eq", "transient", "compressor"] as const;
export type QuickType = (typeof quickTypes)[number];
/** What is driven: each control, and the gain that keeps the strokes as loud as they come in. */
export const quickParts = [...quickControls, "level"] as const;
export type QuickPart = (typeof quickParts)[number];
export type QuickSettings = Readonly<Record<QuickPart, Readonly<Partial<Record<QuickType, AnyValues>>>>>;

/** What each control does at 100; at -100 the opposite (common practice, no source). */
export const quickReach = {
  /** A bell at the fundamental, tied to it, dB. */
  weight: 6,
  /** A bell in the middle of the stick, dB, and the attack of every stroke, dB. */
  stick: 5,
  attack: 3,
  /** A high shelf, dB. */
  air: 6,
  /** Ratio of the compressor from 2 at rest up. */
  ratio: 2,
  /** Under 0 the tails go down by so much instead, dB. */
  sustain: -9,
} as const;
/** An attack and sustain that is asked for nothing waits switched off: it costs the most of the three. */
export const rests = (type: QuickType, params: AnyValues): boolean =>
  type === "transient" && params["attack"] === 0 && params["sustain"] === 0;

/** Places of a control at which its basis was measured: those above 0 are the ones of the thresholds' upper half. */
export const loudnessAt = [-100, -50, 50, 100] as const;
export const thresholdsAt = [25, 50, 75, 100] as const;

/** Between points, and straight on behind the last; 0 at 0. Shape  ascending places, one value each. */
function between(at: readonly number[], values: readonly number[], place: number): number {
  const i = Math.max(
    1,
    at.findIndex((p) => p >= place),
  );
  const [a, b] = [at[i - 1]!, at[i]!];
  return values[i - 1]! + ((values[i]! - values[i - 1]!) * (place - a)) / (b - a);
}
const toTenth = (db: number): number => Math.round(10 * db) / 10;

/** How much louder a control makes the strokes, dB. */
export function louderBy({ louder }: QuickBasis, control: QuickControl, value: number): number {
  const [a, b, c, d] = louder[control] as [number, number, number, number];
  return between([-100, -50, 0, 50, 100], [a, b, 0, c, d], value);
}

/** Level from which the compressor turns down, dBFS. */
const thresholdFor = ({ thresholds }: QuickBasis, density: number): number =>
  Math.round(2 * between(thresholdsAt, thresholds, Math.max(thresholdsAt[0], density))) / 2;

/** How much louder the controls make the strokes by the measures of each alone: what holds while they are being turned, dB. */
export const louderTogether = (values: QuickValues, basis: QuickBasis): number =>
  quickControls.reduce((sum, c) => sum + louderBy(basis, c, values[c]), 0);

/**
 * What the controls set, part by part. The rules stand in docs/shape.md; this is all there is to them.
 * Shape   `louder`: by how much all of them together make the strokes louder, dB.
 */
export function quickSettings({ values, basis, louder }: QuickState): QuickSettings {
  const { weight, stick, air, density } = values;
  const dense = Math.max(0, density);
  return {
    weight: {
      eq: {
        fundamental: basis.fundamental,
        bell1Shape: "bell",
        bell1Ratio: 1,
        bell1Q: 1,
        bell1Gain: toTenth((quickReach.weight * weight) / 100),
      },
    },
    stick: {
      eq: {
        bell2Shape: "bell",
        bell2Ratio: 0,
        bell2Frequency: basis.stick,
        bell2Q: 0.9,
        bell2Gain: toTenth((quickReach.stick * stick) / 100),
      },
      transient: { attack: toTenth((quickReach.attack * stick) / 100), attackTime: 0.015 },
    },
    air: { eq: { highShelfFrequency: basis.air, highShelfGain: toTenth((quickReach.air * air) / 100) } },
    density: {
      transient: { sustain: toTenth((quickReach.sustain * Math.max(0, -density)) / 100), sustainTime: 0.25 },
      compressor: {
        threshold: thresholdFor(basis, density),
        ratio: dense === 0 ? 1 : toTenth(2 + (quickReach.ratio * dense) / 100),
        attack: 0.005,
        release: 0.12,
        knee: 6,
        mix: 100,
      },
    },
    level: { compressor: { makeup: toTenth(Math.min(24, Math.max(-12, -louder))) } },
  };
}
