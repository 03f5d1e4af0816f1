import { timesOf } from "../hits/times";
import { anyBetween } from "../signal/ascending";
import { estimateDelay, type DelayEstimate, type DelayRange } from "../align/delays";
import { measureDrift } from "../align/drift";
import { farPieces, isDrum, mainMic, type Hit, type Piece, type Place } from "../song/song";
import type { Arrival } from "./analysed";
import { energyOf } from "../signal/level";
import type { Samples } from "../signal/samples";

/** A mic as the timing is measured. */
export interface TimedMic {
  readonly file: string;
  readonly piece: Piece;
  readonly place: Place;
  readonly silent: boolean;
  readonly channels: readonly Samples[];
}

/** Strokes used for a delay: enough to average bleed away, few enough to be quick. */
const strokesForDelay = 80;
const secondRange: DelayRange = { from: -0.006, to: 0.008 };
/** A layer of one-shots may come early or well late. */
const layerRange: DelayRange = { from: -0.02, to: 0.03 };
const overheadRange: DelayRange = { from: -0.003, to: 0.015 };
const roomRange: DelayRange = { from: -0.003, to: 0.04 };

/** Loud strokes of a drum that no stroke of another drum falls on, spread over the song; frames. */
export function clearStrokes(hits: readonly Hit[], piece: Piece, sampleRate: number): number[] {
  const own = hits.filter((h) => h.piece === piece && !h.ghost);
  const others = timesOf(
    hits.filter((h) => h.piece !== piece && !h.ghost && h.piece !== "hat" && h.piece !== "ride"),
  );
  const clear = own.filter((h) => !anyBetween(others, h.time - 0.03, h.time + 0.03));
  const chosen = clear.length >= Math.min(8, own.length) ? clear : own;
  const every = Math.max(1, chosen.length / strokesForDelay);
  const spread: number[] = [];
  for (let i = 0; i < chosen.length; i += every)
    spread.push(Math.round(chosen[Math.floor(i)]!.time * sampleRate));
  return spread;
}

/** Mics of one drum: how much its body counts beside its attack when delay and polarity are chosen. */
const bodyCounts = 1;
/** Frames within which two halves of the strokes say the same. */
const agreeing = 2;

/** When and how a drum's strokes arrive in a mic; `driftPpm` 0 where one clock runs for both. */
export interface Timing extends DelayEstimate {
  readonly driftPpm: number;
}

/** A mic beside the main mic of its drum. */
export interface SecondAsk {
  readonly main: Samples;
  readonly second: Samples;
  /** Frames of the strokes that are compared. */
  readonly strokes: readonly number[];
  readonly range: DelayRange;
  readonly sampleRate: number;
  /** How much the body counts beside the attack. */
  readonly lowEnd?: number;
}

/** Delay and polarity with the drift of a second clock taken off; the delay is that at the song's first frame. */
export function measureTiming({
  main,
  second,
  strokes,
  range,
  sampleRate,
  lowEnd = 0,
}: SecondAsk): Timing | null {
  const told = measureDrift(main, second, strokes, range, sampleRate)?.ppm ?? 0;
  const by = (ppm: number) => estimateDelay(main, second, strokes, range, sampleRate, ppm, lowEnd);
  const [drifted, steady] = [by(told), told === 0 ? null : by(0)];
  // A mic without attack may seem to drift; a drift that is one makes all strokes agree better.
  const ppm = steady && drifted && steady.confidence > drifted.confidence ? 0 : told;
  const found = ppm === told ? drifted : steady;
  if (!found) return null;
  // Two mics with one tone match at many places nearly alike; that both halves of the strokes say the same is proof.
  const half = (rest: number) =>
    estimateDelay(
      main,
      second,
      strokes.filter((_, i) => i % 2 === rest),
      range,
      sampleRate,
      ppm,
      lowEnd,
    );
  const [a, b] = [half(0), half(1)];
  const agree = a && b && a.polarity === b.polarity && Math.abs(a.delay - b.delay) < agreeing;
  const confidence = agree
    ? Math.max(found.confidence, 0.95 * Math.min(1, found.hits / 8))
    : found.confidence;
  return { ...found, confidence, driftPpm: ppm };
}

/** The drum whose strokes a layer of one-shots doubles: most of its strokes and of the layer's begin together. */
export function drumOfLayer(layer: Samples, hits: readonly Hit[], sampleRate: number): Piece | null {
  const window = Math.round(0.03 * sampleRate);
  const whole = energyOf(layer) + 1e-20;
  let best: { piece: Piece; score: number } | null = null;
  for (const piece of new Set(hits.map((h) => h.piece))) {
    const own = hits.filter((h) => h.piece === piece && !h.ghost);
    const at = own.map((h) => Math.round(h.time * sampleRate));
    const rises = at.filter(
      (a) =>
        energyOf(layer, a - window / 6, a + window) > 4 * energyOf(layer, a - 1.5 * window, a - window / 3),
    );
    const inside = at.reduce((sum, a) => sum + energyOf(layer, a - window / 2, a + 4 * window), 0);
    const share = Math.min(1, inside / whole);
    const score = (rises.length / Math.max(1, own.length)) * share;
    if (own.length >= 2 && score > (best?.score ?? 0.4)) best = { piece, score };
  }
  return best?.piece ?? null;
}

/** Main mic of a second mic or of the drum that a layer doubles, and what is to be measured of the two; null: it has none. */
export function secondOf(
  mics: readonly TimedMic[],
  mic: TimedMic,
  hits: readonly Hit[],
  sampleRate: number,
): { main: TimedMic; ask: SecondAsk } | null {
  if (mic.silent) return null;
  const second = mic.channels[0]!;
  const layer = mic.piece === "sample";
  const piece = layer ? drumOfLayer(second, hits, sampleRate) : isDrum(mic.piece) ? mic.piece : null;
  const main = piece && mainMic(mics, piece);
  if (!main || main === mic) return null;
  const range = layer ? layerRange : secondRange;
  const strokes = clearStrokes(hits, piece, sampleRate);
  const lowEnd = layer ? 0 : bodyCounts;
  return { main, ask: { main: main.channels[0]!, second, strokes, range, sampleRate, lowEnd } };
}

/** A drum as its way to the far mics is measured. */
interface TimedDrum {
  readonly piece: Piece;
  readonly main: Samples;
  readonly strokes: readonly number[];
}
/** A far mic and the drums it hears. */
export interface ArrivalsAsk {
  readonly file: string;
  readonly channels: readonly Samples[];
  readonly drums: readonly TimedDrum[];
  /** The drum by which its clock is judged. */
  readonly judge: TimedDrum | null;
  readonly range: DelayRange;
  readonly sampleRate: number;
}
export interface MicArrivals {
  readonly arrivals: readonly Arrival[];
  /** Millionths by which its clock runs off. */
  readonly ppm: number;
}

/** What is to be measured of every far mic. */
export function farMics(mics: readonly TimedMic[], hits: readonly Hit[], sampleRate: number): ArrivalsAsk[] {
  const drums = [...new Set(hits.map((h) => h.piece))].flatMap((piece): TimedDrum[] => {
    const main = mainMic(mics, piece)?.channels[0];
    return main ? [{ piece, main, strokes: clearStrokes(hits, piece, sampleRate) }] : [];
  });
  // A clock is judged by the drum that is struck most often.
  const judges = drums
    .filter((d) => d.piece === "snare" || d.piece === "kick")
    .sort((a, b) => b.strokes.length - a.strokes.length);
  return mics
    .filter((m) => farPieces.includes(m.piece) && !m.silent)
    .map(({ file, piece, channels }) => ({
      file,
      channels,
      drums,
      judge: judges[0] ?? null,
      range: piece === "room" ? roomRange : overheadRange,
      sampleRate,
    }));
}

/** When every drum arrives in every channel of a far mic, and the drift of its clock. */
export function arrivalsIn({ file, channels, drums, judge, range, sampleRate }: ArrivalsAsk): MicArrivals {
  const drift = judge && measureDrift(judge.main, channels[0]!, judge.strokes, range, sampleRate);
  const ppm = drift?.ppm ?? 0;
  const arrivals = drums.flatMap(({ piece, main, strokes }) =>
    channels.flatMap((x, channel): Arrival[] => {
      const found = estimateDelay(main, x, strokes, range, sampleRate, ppm);
      if (!found) return [];
      const { delay: delaySamples, polarity, confidence } = found;
      return [{ piece, mic: file, channel, delaySamples, polarity, confidence }];
    }),
  );
  return { arrivals, ppm };
}
