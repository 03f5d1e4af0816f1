import type { ShapedDrum } from "../facts/shapedDrum";
import { spreadOver } from "../hits/snippets";
import { averageSpectrum } from "../measure/spectrum";
import type { ParamValue } from "../params";
import { median, peakOf, powerToDb } from "../signal/level";
import { newProcessor } from "../song/create";
import { flavours, type Flavour, type Piece } from "../song/song";
import { balanceBands, balanceOf, bandsOf, middleOf, type Balance, type BalanceBand } from "./balance";
import { fitThreshold } from "./fitThreshold";
import { wantedOf, type Wanted } from "./flavour";
import { envelope, envelopeTimesMs } from "./hitReductions";
import { effectOf, levelOf, reelOf, shorter, strokesOf, through, type Reel } from "./reel";
import { usualBalance } from "./usualBalance";
import type { Samples } from "../signal/samples";

/** Strokes that a drum is shaped by, spread over the song. */
const strokesHeard = 36;
/** How many of them are the loudest there are. */
const loudestHeard = 4;
/** Strokes by which levels are sought; what is told is then measured over all that are heard. */
const fittedBy = 12;
/** Share of what a drum differs from the usual balance by that is made up for. */
const madeUp = 0.5;
const largest = { lift: 6, cut: -8 };
/** Gains smaller than this are left out, dB. */
const leastGain = 0.5;
/** Peaks may come no nearer to full scale than this, dB, once the trim has brought the strokes to `strokesAt` dBFS. */
const headroom = { peak: -4.2, strokesAt: -10 };
const widths: Readonly<Record<BalanceBand, number>> = { weight: 1.2, box: 0.9, stick: 0.9, air: 0.7 };
/** EQ bands that the parts take, as they are numbered. */
const bells: Readonly<Record<BalanceBand, number>> = { weight: 1, box: 2, stick: 4, air: 0 };

const bounded = (value: number, from: number, to: number): number => Math.min(to, Math.max(from, value));
const toHalf = (db: number): number => Math.round(2 * db) / 2;

/** Gains by part: what the flavour wants, more where the drum has less of it than such drums usually have. */
function gainsOf({ tone }: Wanted, piece: Piece, balance: Balance): Balance {
  const usual = usualBalance(piece);
  const gain = (band: BalanceBand) => {
    const wanted = tone[band] + (usual && tone[band] !== 0 ? madeUp * (usual[band] - balance[band]) : 0);
    // A part that is to be lifted is not cut because there is much of it, and the other way round.
    const kept = tone[band] > 0 ? Math.max(0, wanted) : tone[band] < 0 ? Math.min(0, wanted) : 0;
    const rounded = toHalf(bounded(kept, largest.cut, largest.lift));
    return Math.abs(rounded) < leastGain ? 0 : rounded;
  };
  return { weight: gain("weight"), box: gain("box"), stick: gain("stick"), air: gain("air") };
}

function eqOf(
  piece: Piece,
  bands: ReturnType<typeof bandsOf>,
  gains: Balance,
  fundamental: number,
): Record<string, ParamValue> {
  const eq: Record<string, ParamValue> =
    piece === "snare" ? { highPassSlope: "12", highPassFrequency: 90 } : {};
  for (const band of balanceBands) {
    if (gains[band] === 0) continue;
    const frequency = Math.round(band === "weight" ? fundamental : middleOf(bands[band]));
    if (bells[band] === 0) Object.assign(eq, { highShelfFrequency: 9000, highShelfGain: gains[band] });
    else
      Object.assign(eq, {
        [`bell${bells[band]}Frequency`]: frequency,
        [`bell${bells[band]}Gain`]: gains[band],
        [`bell${bells[band]}Q`]: widths[band],
      });
  }
  return eq;
}

/** Parts of the strokes: against the whole, dB, and their levels, dBFS. */
function partsOf(reel: Reel, bands: ReturnType<typeof bandsOf>): { against: Balance; levels: Balance } {
  const curve = averageSpectrum(strokesOf(reel, 0, 0.16), reel.sampleRate);
  const whole = 10 * Math.log10(curve.levels.reduce((sum, l) => sum + 10 ** (l / 10), 0));
  const against = balanceOf(curve, bands);
  const levels = Object.fromEntries(balanceBands.map((b) => [b, against[b] + whole])) as unknown as Balance;
  return { against, levels };
}

/** The drive at which peaks come down by so much at the same loudness, by halving: more drive rounds more. */
function fitRounding(
  reel: Reel,
  level: number,
  wishedDb: number,
): Omit<NonNullable<ShapedDrum["rounding"]>, "lowered"> {
  const state = (drive: number, louder = 0) => {
    const output = bounded(Math.round(10 * (-drive - louder)) / 10, -36, 12);
    return newProcessor("x", "saturation", true, { character: "rounded", drive, output });
  };
  const few = shorter(reel, fittedBy);
  const at = (drive: number, over: Reel) => {
    const e = effectOf(state(drive), over);
    const louder = e.loudnessAfter.whole - e.loudnessBefore.whole;
    const peak = median(e.peakAfter.map((after, i) => after - e.peakBefore[i]!)) - louder;
    return { louder, peak };
  };
  let low = bounded(-level - 12, -12, 24);
  let high = bounded(-level + 6, -12, 30);
  for (let step = 0; step < 5; step++) {
    const middle = (low + high) / 2;
    if (at(middle, few).peak < -wishedDb) high = middle;
    else low = middle;
  }
  const drive = toHalf(low);
  const { louder, peak } = at(drive, reel);
  return { drive, output: state(drive, louder).params["output"] as number, peakDb: peak };
}

/** By how much an output must be lowered so that the loudest stroke comes not too near to full scale, dB. */
const tooLoud = (peaks: readonly number[], rawLevel: number): number =>
  Math.max(
    0,
    Math.ceil(10 * (Math.max(-Infinity, ...peaks) + headroom.strokesAt - rawLevel - headroom.peak)) / 10,
  );

/** The compressor of a flavour, its threshold fitted, as loud as what comes in; `last`: nothing behind it leaves room. */
function squeeze(
  reel: Reel,
  wanted: Wanted,
  rawLevel: number,
  last: boolean,
): { compressor: NonNullable<ShapedDrum["compressor"]>; behind: Reel } {
  const { wishedDb, ...values } = wanted.compressor;
  const { threshold } = fitThreshold(
    strokesOf(shorter(reel, fittedBy), -0.005, 0.15),
    values,
    wishedDb,
    reel.sampleRate,
  );
  const state = (makeup: number) => newProcessor("x", "compressor", true, { ...values, threshold, makeup });
  const plain = effectOf(state(0), reel);
  const louder = plain.loudnessAfter.whole - plain.loudnessBefore.whole;
  const matched = bounded(Math.round(-10 * louder) / 10, -12, 24);
  const lowered = last
    ? tooLoud(
        plain.peakAfter.map((p) => p + matched),
        rawLevel,
      )
    : 0;
  const makeup = Math.max(-12, Math.round(10 * (matched - lowered)) / 10);
  const compressor = { threshold, ...values, makeup, reductionDb: median(plain.reductionDb), lowered };
  return { compressor, behind: through(state(makeup), reel) };
}

/** Peaks rounded by so much at the same loudness, and the room that the loudest stroke keeps. */
function round(
  reel: Reel,
  wishedDb: number,
  rawLevel: number,
): { rounding: NonNullable<ShapedDrum["rounding"]>; behind: Reel } {
  const { drive, output, peakDb } = fitRounding(reel, rawLevel, wishedDb);
  const state = newProcessor("x", "saturation", true, { character: "rounded", drive, output });
  const lowered = tooLoud(effectOf(state, reel).peakAfter, rawLevel);
  const rounding = {
    drive,
    output: Math.max(-36, Math.round(10 * (output - lowered)) / 10),
    peakDb,
    lowered,
  };
  return {
    rounding,
    behind: through({ ...state, params: { ...state.params, output: rounding.output } }, reel),
  };
}

/** Points of the envelope that are told as one: 6 ms, so that a low drum does not ripple through. */
const together = 3;
/** Means of every few values. */
const thinned = (values: readonly number[]): number[] =>
  Array.from({ length: Math.floor(values.length / together) }, (_, k) =>
    values.slice(k * together, (k + 1) * together).reduce((sum, v) => sum + v / together, 0),
  );
/** Times of the points of an average stroke against its onset, ms. */
export const strokeTimesMs: readonly number[] = thinned(envelopeTimesMs);
const strokeOf = ({ audio, onsets, sampleRate }: Reel): number[] =>
  thinned(envelope(audio, onsets, sampleRate).map((db) => 10 ** (db / 10))).map(
    (p) => Math.round(10 * powerToDb(p)) / 10,
  );

interface Asked {
  readonly piece: Piece;
  readonly raw: Reel;
  readonly fundamental: number;
  /** The drum's main mic: others get an EQ only. */
  readonly main: boolean;
  readonly cut: Readonly<Record<string, ParamValue>>;
}

function shaped(flavour: Flavour, { piece, raw, fundamental, main, cut }: Asked): ShapedDrum {
  const wanted = wantedOf(flavour, piece);
  const bands = bandsOf(piece, fundamental);
  const before = partsOf(raw, bands);
  const eq = eqOf(piece, bands, gainsOf(wanted, piece, before.against), fundamental);
  const behindEq = through(newProcessor("x", "eq", true, { ...eq, ...cut }), raw);
  const after = partsOf(behindEq, bands);
  const changed = Object.fromEntries(
    balanceBands.map((b) => [b, after.levels[b] - before.levels[b]]),
  ) as unknown as Balance;
  const toned = { eq, changed, strokes: raw.onsets.length };
  const told = (end: Reel) => ({ before: strokeOf(raw), after: strokeOf(end) });
  if (!main) return { ...toned, compressor: null, rounding: null, stroke: told(behindEq) };
  const rawLevel = levelOf(raw);
  const rounds = wanted.rounded > 0;
  const { compressor, behind } = squeeze(behindEq, wanted, rawLevel, !rounds);
  if (!rounds) return { ...toned, compressor, rounding: null, stroke: told(behind) };
  const { rounding, behind: end } = round(behind, wanted.rounded, rawLevel);
  return { ...toned, compressor, rounding, stroke: told(end) };
}

/** Strokes that a drum is shaped by: spread over the song, and the loudest few, by whose peaks room is left. Times in s, ascending. */
function heardOf(x: Samples, times: readonly number[], sampleRate: number): readonly number[] {
  if (times.length <= strokesHeard) return times;
  const peak = (t: number) =>
    peakOf(x.subarray(Math.round(t * sampleRate), Math.round((t + 0.02) * sampleRate)));
  const byPeak = times.map((t) => [t, peak(t)] as const).sort((a, b) => b[1] - a[1]);
  const chosen = new Set(byPeak.slice(0, loudestHeard).map(([t]) => t));
  const others = spreadOver(
    times.filter((t) => !chosen.has(t)),
    strokesHeard - loudestHeard,
  );
  return [...chosen, ...others].sort((a, b) => a - b);
}

/**
 * What every flavour makes of a drum's mic: EQ by what the strokes lack, reduction fitted behind it, peaks rounded behind both, each
 * measured over the strokes where it stands.
 * Shape   x from the song's first frame on, times of the main strokes in it, s; `main`: the drum's main mic;
 *         `cut`: what the EQ cuts whatever the flavour, a ring.
 */
export function shapeDrum(
  x: Samples,
  piece: Piece,
  times: readonly number[],
  fundamental: number,
  sampleRate: number,
  main: boolean,
  cut: Readonly<Record<string, ParamValue>> = {},
): Readonly<Record<Flavour, ShapedDrum>> | null {
  const raw = reelOf(x, heardOf(x, times, sampleRate), sampleRate, strokesHeard);
  if (raw.onsets.length === 0) return null;
  const asked = { piece, raw, fundamental, main, cut };
  return Object.fromEntries(flavours.map((f) => [f, shaped(f, asked)])) as unknown as Record<
    Flavour,
    ShapedDrum
  >;
}
