import { timesOf } from "../hits/times";
import { anyBetween } from "../signal/ascending";
import { heardStrokes } from "../blend/heardStrokes";
import { measureLowEnd } from "../shape/measureLowEnd";
import { measureRing } from "../shape/measureRing";
import { ringCut } from "../shape/rings";
import { shapeDrum } from "../shape/shapeDrum";
import { findTone } from "../shape/findTone";
import { measureLayer } from "../align/layer";
import { bestRotation, pairSpectra } from "../align/bands";
import { lowEndGain } from "../align/evidence";
import { gainToDb, peakOf } from "../signal/level";
import { measureTails } from "../clean/tails";
import { bandEnergies, energiesHere, type BandEnergies } from "../hits/bandEnergies";
import { cutSnippets } from "../hits/snippets";
import { isDrum, isShell, type Hit, type Mic, type Piece } from "../song/song";
import type { AnalysedMic, Arrival } from "./analysed";
import { lookAtFile, type FileLook } from "./lookAtFile";
import type { Facts } from "../facts/facts";
import type { Samples } from "../signal/samples";

/** Peaks of strokes and bleed in one mic, dBFS. Bleed: strokes of other drums with no stroke of its own within 60 ms. */
export function levelsIn(
  x: Samples,
  piece: Piece,
  hits: readonly Hit[],
  sampleRate: number,
): { hits: number[]; ghosts: number[]; bleed: number[] } {
  const peak = (h: Hit) =>
    gainToDb(peakOf(x, Math.round((h.time - 0.001) * sampleRate), Math.round((h.time + 0.014) * sampleRate)));
  const own = hits.filter((h) => h.piece === piece);
  const times = timesOf(own);
  const bleed = hits.filter((h) => h.piece !== piece && !anyBetween(times, h.time - 0.12, h.time + 0.03));
  return {
    hits: own.filter((h) => !h.ghost).map(peak),
    ghosts: own.filter((h) => h.ghost).map(peak),
    bleed: bleed.map(peak),
  };
}

/** One mic as its facts are measured. */
export interface MicFactsAsk {
  readonly mic: Mic;
  readonly channels: readonly Samples[];
  /** What it is judged against: the main mic of its drum, or of the drum that a layer doubles; null: nothing. */
  readonly main: { readonly audio: Samples; readonly piece: Piece } | null;
  readonly found: Pick<AnalysedMic, "polarity" | "delaySamples" | "confidence" | "strokes" | "driftPpm">;
  readonly arrivals: readonly Arrival[];
  readonly hits: readonly Hit[];
  readonly sampleRate: number;
  /** Whether flavours are fitted: long work that only Shape and what comes behind it need. */
  readonly shaping: boolean;
  /** What its file tells by itself, where that was looked at before. */
  readonly look?: FileLook | undefined;
  /** Of its first channel, where they were worked out before. */
  readonly energies?: BandEnergies | undefined;
}

/** Facts of one mic; what does not apply is left out. */
export type MicFacts = { [K in keyof Facts]?: Facts[K][string] };

/** Strokes and confidence from which a delay is trusted. */
const fewestStrokes = 4;
const leastConfidence = 0.15;

/** What a second mic or a layer does to the low end of its main mic, and the rotation that would help. */
function pairFacts(ask: MicFactsAsk): Pick<MicFacts, "pairs" | "rotation"> {
  const { channels, main, hits, sampleRate } = ask;
  const { polarity, delaySamples, confidence, strokes, driftPpm } = ask.found;
  if (!main || strokes === 0) return {};
  const thin = strokes < fewestStrokes || confidence < leastConfidence;
  const pair = { polarity, delaySamples, confidence, strokes, thin, driftPpm };
  if (thin) return { pairs: { ...pair, gainDb: 0 } };
  const times = hits.filter((h) => h.piece === main.piece && !h.ghost).map((h) => h.time);
  const move = { polarity, delay: -delaySamples };
  const gainDb = lowEndGain(main.audio, channels[0]!, times.slice(0, 60), move, sampleRate);
  const rotation = bestRotation(pairSpectra(main.audio, channels[0]!, times.slice(0, 40), sampleRate), move);
  return { pairs: { ...pair, gainDb }, ...(rotation ? { rotation } : {}) };
}

/**
 * Measures what the proposals need beyond the analysis, of one mic.
 * Shape   channels from the song's first frame on.
 */
export function micFacts(ask: MicFactsAsk): MicFacts {
  const { mic, channels, hits, sampleRate } = ask;
  const x = channels[0]!;
  const facts: { -readonly [K in keyof MicFacts]: MicFacts[K] } = pairFacts(ask);
  if (!mic.silent) Object.assign(facts, ask.look ?? lookAtFile({ channels, start: mic.start, sampleRate }));
  const arrivals = ask.arrivals.filter((a) => a.confidence > leastConfidence);
  if (arrivals.length > 0)
    facts.arrivals = arrivals.map(({ piece, channel, delaySamples, polarity, confidence }) => ({
      piece,
      channel,
      delaySamples,
      polarity,
      confidence,
    }));
  if (!mic.silent && !mic.unplayed) {
    const { polarity, delaySamples, strokes } = ask.found;
    const main =
      ask.main && strokes >= fewestStrokes ? { audio: ask.main.audio, delaySamples, polarity } : null;
    const heard = heardStrokes(mic, channels, hits, sampleRate, main);
    if (heard) facts.heardStrokes = heard;
  }
  if (mic.piece === "sample" && ask.main && ask.found.strokes >= fewestStrokes) {
    const delay = ask.found.delaySamples / sampleRate;
    const timing = measureLayer(x, hits, ask.main.piece, delay, sampleRate);
    if (timing) facts.layers = { ...timing, delay };
  }
  if (ask.found.driftPpm !== 0 || mic.clockPpm !== 0) facts.drift = ask.found.driftPpm + mic.clockPpm;
  if (!isDrum(mic.piece) || mic.silent || mic.unplayed) return facts;
  return { ...facts, ...drumFacts(ask) };
}

/** What the strokes of its drum tell in a mic: levels, tails, tone and ring, and flavours where they are asked for. */
function drumFacts({ mic, channels, hits, sampleRate, shaping, energies }: MicFactsAsk): MicFacts {
  const x = channels[0]!;
  const facts: { -readonly [K in keyof MicFacts]: MicFacts[K] } = {};
  facts.levels = levelsIn(x, mic.piece, hits, sampleRate);
  const own = hits.filter((h) => h.piece === mic.piece);
  const mains = own.filter((h) => !h.ghost).map((h) => h.time);
  if (isShell(mic.piece)) {
    const here = (t: number) => t + mic.lateBy / sampleRate;
    const all = own.map((h) => here(h.time));
    const tails = measureTails(
      energies ? energiesHere(energies) : bandEnergies(x, sampleRate),
      mains.map(here),
      all,
    );
    if (tails) facts.tails = tails;
  }
  const tone = findTone(x, mic.piece, mains, sampleRate);
  if (!tone) return facts;
  facts.tone = tone;
  const { fundamental } = tone;
  const rung = measureRing(
    x,
    own.map((h) => h.time),
    facts.tone.ring,
    sampleRate,
  );
  if (rung) facts.rings = rung;
  if (mic.piece !== "snare") {
    const lowEnd = measureLowEnd(
      cutSnippets(x, mains.slice(0, 48), 0, 0.2, sampleRate),
      fundamental,
      sampleRate,
    );
    if (lowEnd) facts.lowEnds = lowEnd;
  }
  if (!shaping) return facts;
  const here = mains.map((t) => t + mic.lateBy / sampleRate);
  const shapes = shapeDrum(
    x,
    mic.piece,
    here,
    fundamental,
    sampleRate,
    !mic.reference,
    ringCut(mic.piece, facts.tone, facts.rings),
  );
  if (shapes) facts.shapes = shapes;
  return facts;
}
