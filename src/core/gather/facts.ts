import { measureLoudness } from "../measure/loudness";
import { fitThreshold } from "../shape/fitThreshold";
import { usualCompressor } from "../shape/usual";
import { averageSpectrum, findRing, refinePeak, strongest } from "../shape/spectrum";
import { measureLayer } from "../align/layer";
import { bestRotation, pairSpectra } from "../align/bands";
import { lowEndGain } from "../align/evidence";
import { gainToDb, peakOf } from "../signal/level";
import { pansByOverheads } from "../clean/stereoPosition";
import { measureTails } from "../clean/tails";
import { bandEnergies } from "../hits/bandEnergies";
import { labelsOf } from "../song/relabel";
import { isDrum, isShell, type Hit, type Mic, type Piece, type Song } from "../song/song";
import type { AnalysedMic, Arrival, KitAnalysis } from "./analyseKit";
import { findFaults, type Faults } from "./faults";
import { runHere, type MicTaskRunner } from "./micTasks";
import { factsNow } from "./factsNow";
import { clockLeft, noFacts, type Facts } from "./proposal";

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

/** One mic as its facts are measured. */
export interface MicFactsAsk {
  readonly mic: Mic;
  readonly channels: readonly Float32Array[];
  /** What it is judged against: the main mic of its drum, or of the drum that a layer doubles; null: nothing. */
  readonly main: { readonly audio: Float32Array; readonly piece: Piece } | null;
  readonly found: Pick<AnalysedMic, "polarity" | "delaySamples" | "confidence" | "strokes" | "driftPpm">;
  readonly arrivals: readonly Arrival[];
  readonly hits: readonly Hit[];
  readonly sampleRate: number;
}

/** Facts of one mic; what does not apply is left out. */
export type MicFacts = { [K in keyof Facts]?: Facts[K][string] };

/** Kinds of facts that one mic and its main mic tell. */
const ofOneMic = ["pairs", "rotation", "faults", "loudness", "arrivals", "layers", "drift", "levels", "tails", "tone", "squeeze"] as const; // prettier-ignore

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

/** Faults of a mic's file; its times are those of the file. */
const fileFaults = ({ channels, mic, sampleRate }: MicFactsAsk): Faults =>
  findFaults(
    channels.map((x) => x.subarray(mic.start)),
    sampleRate,
  );

/**
 * Measures what the proposals need beyond the analysis, of one mic.
 * Shape   channels from the song's first frame on.
 */
export function micFacts(ask: MicFactsAsk): MicFacts {
  const { mic, channels, hits, sampleRate } = ask;
  const x = channels[0]!;
  const facts: { -readonly [K in keyof MicFacts]: MicFacts[K] } = pairFacts(ask);
  if (!mic.silent) facts.faults = fileFaults(ask);
  if (!mic.silent) facts.loudness = measureLoudness(channels, sampleRate).integrated;
  const arrivals = ask.arrivals.filter((a) => a.confidence > leastConfidence);
  if (arrivals.length > 0)
    facts.arrivals = arrivals.map(({ piece, channel, delaySamples, polarity, confidence }) => ({
      piece,
      channel,
      delaySamples,
      polarity,
      confidence,
    }));
  if (mic.piece === "sample" && ask.main && ask.found.strokes >= fewestStrokes) {
    const delay = ask.found.delaySamples / sampleRate;
    const timing = measureLayer(x, hits, ask.main.piece, delay, sampleRate);
    if (timing) facts.layers = { ...timing, delay };
  }
  if (ask.found.driftPpm !== 0 || mic.clockPpm !== 0) facts.drift = ask.found.driftPpm + mic.clockPpm;
  if (!isDrum(mic.piece) || mic.silent || mic.unplayed) return facts;
  facts.levels = levelsIn(x, mic.piece, hits, sampleRate);
  const own = hits.filter((h) => h.piece === mic.piece);
  const mains = own.filter((h) => !h.ghost).map((h) => h.time);
  if (isShell(mic.piece)) {
    const here = (t: number) => t + mic.lateBy / sampleRate;
    const all = own.map((h) => here(h.time));
    const tails = measureTails(bandEnergies(x, sampleRate), mains.map(here), all);
    if (tails) facts.tails = tails;
  }
  const range = fundamentalRange[mic.piece];
  if (!range || mains.length === 0) return facts;
  const early = averageSpectrum(cutSnippets(x, mains.slice(0, 48), 0, 0.16, sampleRate), sampleRate);
  const nearRing = cutSnippets(x, mains.slice(0, 48), 0.06, 0.3, sampleRate);
  const fundamental = strongest(early, range[0], range[1]).frequency;
  const ring = findRing(averageSpectrum(nearRing, sampleRate), fundamental * 1.35, 6000);
  facts.tone = {
    fundamental,
    ring: refinePeak(nearRing, ring.frequency, sampleRate),
    ringDb: ring.standsOutDb,
  };
  const { wishedDb, ...values } = usualCompressor(mic.piece);
  const strokes = cutSnippets(x, mains.slice(0, 40), -0.005, 0.15, sampleRate);
  facts.squeeze = fitThreshold(strokes, values, wishedDb, sampleRate);
  return facts;
}

/**
 * Measures what the proposals need beyond the analysis.
 * Shape   mics of the song in the order of `audio`; audio per mic and channel from the song's first frame on.
 */
export async function gatherFacts(
  mics: readonly Mic[],
  audio: readonly (readonly Float32Array[])[],
  analysis: KitAnalysis,
  run: MicTaskRunner = runHere,
  done: (count: number) => void = () => {},
): Promise<Facts> {
  const { sampleRate, hits } = analysis;
  const asks = mics.map((mic, i): MicFactsAsk => {
    const found = analysis.mics.find((m) => m.file === mic.file)!;
    const reference = mics.findIndex((m) => m.file === found.reference);
    const main = reference < 0 ? null : { audio: audio[reference]![0]!, piece: mics[reference]!.piece };
    const arrivals = analysis.arrivals.filter((a) => a.mic === mic.file);
    return { mic, channels: audio[i]!, main, found, arrivals, hits, sampleRate };
  });
  const answers = await run("facts", asks, done);
  const facts: Record<string, Record<string, unknown>> = Object.fromEntries(
    Object.keys(noFacts).map((kind) => [kind, {}]),
  );
  facts["labels"] = labelsOf(mics);
  facts["pans"] = pansByOverheads(mics, audio, hits, sampleRate);
  for (const found of analysis.events) facts["events"]![found.piece] = found;
  mics.forEach((mic, i) => {
    for (const [kind, value] of Object.entries(answers[i]!)) facts[kind]![mic.id] = value;
  });
  return facts as unknown as Facts;
}

/** Facts of single mics by their labels now: what was measured of them before gives way; what all mics tell stays. */
export async function measureAgain(
  song: Song,
  ids: readonly string[],
  audioOf: (mic: Mic) => Promise<readonly Float32Array[]>,
  facts: Facts,
  run: MicTaskRunner = runHere,
): Promise<Facts> {
  const asks: MicFactsAsk[] = [];
  for (const mic of song.mics.filter((m) => ids.includes(m.id))) {
    const pair = facts.pairs[mic.id];
    const reference = song.mics.find((m) => m.id === mic.reference);
    asks.push({
      mic,
      channels: await audioOf(mic),
      main: reference ? { audio: (await audioOf(reference))[0]!, piece: reference.piece } : null,
      found: {
        polarity: pair?.polarity ?? 1,
        delaySamples: pair?.delaySamples ?? mic.lateBy,
        confidence: pair?.confidence ?? 0,
        strokes: pair?.strokes ?? 0,
        driftPpm: clockLeft(facts, mic),
      },
      arrivals: (facts.arrivals[mic.id] ?? []).map((a) => ({ ...a, mic: mic.file })),
      hits: song.hits,
      sampleRate: song.sampleRate,
    });
  }
  const answers = await run("facts", asks);
  const now = { ...factsNow(song, facts), labels: labelsOf(song.mics) } as unknown as Record<string, Record<string, unknown>>; // prettier-ignore
  for (const kind of ofOneMic) {
    now[kind] = Object.fromEntries(Object.entries(now[kind]!).filter(([id]) => !ids.includes(id)));
    asks.forEach(({ mic }, i) => {
      const value = answers[i]![kind];
      if (value !== undefined) now[kind]![mic.id] = value;
    });
  }
  return now as unknown as Facts;
}
