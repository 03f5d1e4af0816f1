import { gainToDb, median, peakOf, powerToDb } from "../../signal/level";
import { newProcessor } from "../../song/create";
import type { Piece, ProcessorState, QuickBasis, QuickControl, QuickValues } from "../../song/song";
import { bandsOf, middleOf } from "../balance";
import { fitThreshold } from "../fitThreshold";
import { reelOf, strokesOf, through, type Reel } from "../reel";
import { strokeLoudness } from "../strokeLoudness";
import {
  louderTogether,
  loudnessAt,
  quickSettings,
  quickTypes,
  rests,
  thresholdsAt,
  type QuickSettings,
} from "./quickRules";

/** Strokes by which the controls are placed, spread over what is heard. */
const strokesHeard = 16;
/** A density of 100 takes half of the strokes' crest, within these, dB (common practice, no source). */
const deepest = { share: 0.5, least: 4, most: 10 };
/** Where air begins, and a fundamental where none was found, Hz (common practice, no source). */
const airFrom = 8000;
const usualFundamental = 80;
export const untouched: QuickValues = { weight: 0, stick: 0, air: 0, density: 0 };

/** The processors of quick settings, those that do something; `level`: with the gain behind them. */
export function quickChain(settings: QuickSettings, level: boolean): ProcessorState[] {
  return quickTypes.flatMap((type) => {
    const parts = Object.entries(settings).filter(([part]) => level || part !== "level");
    const params = Object.assign({}, ...parts.map(([, set]) => set[type] ?? {})) as ProcessorState["params"];
    return rests(type, params) ? [] : [newProcessor("x", type, true, params)];
  });
}

/** Peak over the mean power of the first 150 ms, dB; in the middle of the strokes. */
const crestOf = (reel: Reel): number =>
  median(
    strokesOf(reel, 0, 0.15).map(
      (s) => gainToDb(peakOf(s)) - powerToDb(s.reduce((p, v) => p + v * v, 0) / s.length),
    ),
  );

const settingsAt = (values: QuickValues, basis: QuickBasis): QuickSettings =>
  quickSettings({ values, basis, louder: 0 });
/** How much louder a chain makes the strokes of a reel, dB. */
function changeBy(chain: readonly ProcessorState[], reel: Reel): number {
  const loudness = (r: Reel) => strokeLoudness(r.audio, r.onsets, r.sampleRate).whole;
  return loudness(chain.reduce((r, state) => through(state, r), reel)) - loudness(reel);
}

interface Heard {
  /** Drum that it is, null for more than one. */
  readonly piece: Piece | null;
  /** Its lowest partial, Hz; null where none was found. */
  readonly fundamental: number | null;
  readonly sampleRate: number;
}

/**
 * What of the strokes places the quick controls: where their parts lie, thresholds for a share of their crest, and how loud each
 * control makes them.
 * Shape   x as it comes into the quick processors, onsets of main strokes in it, frames. Null without strokes.
 */
export function quickBasis(
  x: Float32Array,
  onsets: readonly number[],
  { piece, fundamental, sampleRate }: Heard,
): QuickBasis | null {
  const reel = reelOf(
    x,
    onsets.map((f) => f / sampleRate),
    sampleRate,
    strokesHeard,
  );
  if (reel.onsets.length === 0) return null;
  const lowest = fundamental ?? usualFundamental;
  const whole = Math.min(deepest.most, Math.max(deepest.least, deepest.share * crestOf(reel)));
  const strokes = strokesOf(reel, -0.005, 0.15);
  const place = {
    fundamental: Math.round(lowest * 100) / 100,
    stick: middleOf(bandsOf(piece ?? "snare", lowest).stick),
    air: airFrom,
    strokes: reel.onsets.length,
  };
  const silentBasis = {
    ...place,
    thresholds: [0, 0, 0, 0],
    louder: { weight: [0, 0, 0, 0], stick: [0, 0, 0, 0], air: [0, 0, 0, 0], density: [0, 0, 0, 0] },
  };
  const thresholds = thresholdsAt.map((density) => {
    const { compressor } = settingsAt({ ...untouched, density }, silentBasis).density;
    return fitThreshold(strokes, compressor!, (whole * density) / 100, sampleRate).threshold;
  });
  const basis = { ...silentBasis, thresholds };
  const louder = (control: QuickControl) =>
    loudnessAt.map((at) => {
      const chain = quickChain(settingsAt({ ...untouched, [control]: at }, basis), false);
      return Math.round(100 * changeBy(chain, reel)) / 100;
    });
  return {
    ...basis,
    louder: {
      weight: louder("weight"),
      stick: louder("stick"),
      air: louder("air"),
      density: louder("density"),
    },
  };
}

/**
 * How much louder the controls make the strokes where they stand, all of them together, dB.
 * Shape   x and onsets as for `quickBasis`.
 */
export function quickLouder(
  x: Float32Array,
  onsets: readonly number[],
  sampleRate: number,
  values: QuickValues,
  basis: QuickBasis,
): number {
  const reel = reelOf(
    x,
    onsets.map((f) => f / sampleRate),
    sampleRate,
    strokesHeard,
  );
  if (reel.onsets.length === 0) return louderTogether(values, basis);
  return Math.round(100 * changeBy(quickChain(settingsAt(values, basis), false), reel)) / 100;
}
