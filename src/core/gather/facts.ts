import { measureLoudness } from "../measure/loudness";
import { fitThreshold } from "../shape/fitThreshold";
import { usualCompressor } from "../shape/usual";
import { averageSpectrum, findRing, refinePeak, strongest } from "../shape/spectrum";
import { lowEndGain } from "../align/evidence";
import { gainToDb, peakOf } from "../signal/level";
import { isDrum, type Hit, type Mic, type Piece } from "../song/song";
import type { KitAnalysis } from "./analyseKit";
import type { Facts } from "./proposal";

/** Where a drum's fundamental is looked for, Hz. */
const fundamentalRange: Partial<Record<Piece, readonly [number, number]>> = {
  kick: [35, 110],
  snare: [120, 320],
  tom1: [70, 260],
  tom2: [60, 220],
  tom3: [55, 200],
  floor: [45, 160],
};

/** Cuts [from, to) seconds around strokes out of a signal. */
export function cutSnippets(
  x: Float32Array,
  times: readonly number[],
  from: number,
  to: number,
  sampleRate: number,
): Float32Array[] {
  return times
    .map((t) => [Math.round((t + from) * sampleRate), Math.round((t + to) * sampleRate)] as const)
    .filter(([a, b]) => a >= 0 && b <= x.length)
    .map(([a, b]) => x.subarray(a, b));
}

/** Peaks of strokes and bleed in one mic, dBFS. Bleed: strokes of other drums with no stroke of its own within 60 ms. */
export function levelsIn(
  x: Float32Array,
  piece: Piece,
  hits: readonly Hit[],
  sampleRate: number,
): { hits: number[]; ghosts: number[]; bleed: number[] } {
  const peak = (h: Hit) =>
    gainToDb(peakOf(x, Math.round((h.time - 0.001) * sampleRate), Math.round((h.time + 0.014) * sampleRate)));
  const own = hits.filter((h) => h.piece === piece);
  const bleed = hits.filter(
    (h) => h.piece !== piece && !own.some((o) => h.time - o.time > -0.03 && h.time - o.time < 0.12),
  );
  return {
    hits: own.filter((h) => !h.ghost).map(peak),
    ghosts: own.filter((h) => h.ghost).map(peak),
    bleed: bleed.map(peak),
  };
}

/**
 * Measures what the proposals need beyond the analysis.
 * Shape   mics of the song in the order of `audio`; audio per mic and channel.
 */
export function gatherFacts(
  mics: readonly Mic[],
  audio: readonly Float32Array[][],
  analysis: KitAnalysis,
): Facts {
  const { sampleRate, hits } = analysis;
  const pairs: Record<string, Facts["pairs"][string]> = {};
  const farInverted: Record<string, number> = {};
  const levels: Record<string, Facts["levels"][string]> = {};
  const tone: Record<string, Facts["tone"][string]> = {};
  const distances: Record<string, Facts["arrivals"][string]> = {};
  const squeeze: Record<string, Facts["squeeze"][string]> = {};
  const loudness: Record<string, number> = {};
  mics.forEach((mic, i) => {
    const x = audio[i]![0]!;
    const found = analysis.mics.find((m) => m.file === mic.file)!;
    if (!mic.silent) loudness[mic.id] = measureLoudness(audio[i]!, sampleRate).integrated;
    const main = mics.findIndex((m) => m.file === found.reference);
    const mains = hits.filter((h) => h.piece === mic.piece && !h.ghost).map((h) => h.time);
    if (main >= 0 && found.confidence > 0) {
      const gainDb = lowEndGain(
        audio[main]![0]!,
        x,
        mains.slice(0, 60),
        { polarity: found.polarity, delay: -found.delaySamples },
        sampleRate,
      );
      pairs[mic.id] = {
        polarity: found.polarity,
        delaySamples: found.delaySamples,
        confidence: found.confidence,
        gainDb,
      };
    }
    const arrivals = analysis.arrivals.filter((a) => a.mic === mic.file && a.confidence > 0.15);
    if (arrivals.length > 0)
      distances[mic.id] = arrivals.map(({ piece, channel, delaySamples, confidence }) => ({
        piece,
        channel,
        delaySamples,
        confidence,
      }));
    if (arrivals.length > 1)
      farInverted[mic.id] = arrivals.filter((a) => a.polarity === -1).length / arrivals.length;
    if (!isDrum(mic.piece) || mic.silent || mic.unplayed) return;
    levels[mic.id] = levelsIn(x, mic.piece, hits, sampleRate);
    const range = fundamentalRange[mic.piece];
    if (range && mains.length > 0) {
      const early = averageSpectrum(cutSnippets(x, mains.slice(0, 48), 0, 0.16, sampleRate), sampleRate);
      const late = averageSpectrum(cutSnippets(x, mains.slice(0, 48), 0.06, 0.3, sampleRate), sampleRate);
      const fundamental = strongest(early, range[0], range[1]).frequency;
      const ring = findRing(late, fundamental * 1.35, 6000);
      const nearRing = cutSnippets(x, mains.slice(0, 48), 0.06, 0.3, sampleRate);
      tone[mic.id] = {
        fundamental,
        ring: refinePeak(nearRing, ring.frequency, sampleRate),
        ringDb: ring.standsOutDb,
      };
      const { wishedDb, ...values } = usualCompressor(mic.piece);
      const strokes = cutSnippets(x, mains.slice(0, 40), -0.005, 0.15, sampleRate);
      squeeze[mic.id] = fitThreshold(strokes, values, wishedDb, sampleRate);
    }
  });
  return { pairs, farInverted, levels, tone, squeeze, arrivals: distances, loudness };
}
