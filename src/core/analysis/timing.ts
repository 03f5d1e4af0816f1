import { estimateDelay, type DelayEstimate, type DelayRange } from "../align/delays";
import { measureDrift } from "../align/drift";
import { farPieces, isDrum, mainMic, type Hit, type Piece, type Place } from "../song/song";
import type { Arrival } from "./analysed";

/** A mic as the timing is measured. */
export interface TimedMic {
  readonly file: string;
  readonly piece: Piece;
  readonly place: Place;
  readonly silent: boolean;
  readonly channels: readonly Float32Array[];
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
  const others = hits.filter((h) => h.piece !== piece && !h.ghost && h.piece !== "hat" && h.piece !== "ride");
  const clear = own.filter((h) => !others.some((o) => Math.abs(o.time - h.time) < 0.03));
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

/** Delay and polarity with the drift of a second clock taken off; the delay is that at the song's first frame. */
export function measureTiming(
  main: Float32Array,
  second: Float32Array,
  strokes: readonly number[],
  range: DelayRange,
  sampleRate: number,
  lowEnd = 0,
): Timing | null {
  const told = measureDrift(main, second, strokes, range, sampleRate)?.ppm ?? 0;
  const by = (ppm: number) => estimateDelay(main, second, strokes, range, sampleRate, ppm, lowEnd);
  const [drifted, steady] = [by(told), told === 0 ? null : by(0)];
  // A mic without attack may seem to drift; a drift that is one makes all strokes agree better.
  const ppm = steady && drifted && steady.confidence > drifted.confidence ? 0 : told;
  const found = ppm === told ? drifted : steady;
  if (!found) return null;
  // Two mics with one tone match at many places nearly alike; that both halves of the strokes say the same is proof.
  const half = (rest: number) =>
    estimateDelay(main, second, strokes.filter((_, i) => i % 2 === rest), range, sampleRate, ppm, lowEnd); // prettier-ignore
  const [a, b] = [half(0), half(1)];
  const agree = a && b && a.polarity === b.polarity && Math.abs(a.delay - b.delay) < agreeing;
  const confidence = agree
    ? Math.max(found.confidence, 0.95 * Math.min(1, found.hits / 8))
    : found.confidence;
  return { ...found, confidence, driftPpm: ppm };
}

/** The drum whose strokes a layer of one-shots doubles: most of its strokes and of the layer's begin together. */
export function drumOfLayer(layer: Float32Array, hits: readonly Hit[], sampleRate: number): Piece | null {
  const window = Math.round(0.03 * sampleRate);
  const energy = (from: number, to: number): number => {
    let sum = 0;
    for (let i = Math.max(0, from); i < Math.min(layer.length, to); i++) sum += layer[i]! * layer[i]!;
    return sum;
  };
  let best: { piece: Piece; score: number } | null = null;
  for (const piece of new Set(hits.map((h) => h.piece))) {
    const own = hits.filter((h) => h.piece === piece && !h.ghost);
    const at = own.map((h) => Math.round(h.time * sampleRate));
    const rises = at.filter(
      (a) => energy(a - window / 6, a + window) > 4 * energy(a - 1.5 * window, a - window / 3),
    );
    const inside = at.reduce((sum, a) => sum + energy(a - window / 2, a + 4 * window), 0);
    const share = Math.min(1, inside / (energy(0, layer.length) + 1e-20));
    const score = (rises.length / Math.max(1, own.length)) * share;
    if (own.length >= 2 && score > (best?.score ?? 0.4)) best = { piece, score };
  }
  return best?.piece ?? null;
}

/** Main mic of a second mic or of the drum that a layer doubles, and when its strokes arrive; null: it has none. */
export function measureSecond(
  mics: readonly TimedMic[],
  mic: TimedMic,
  hits: readonly Hit[],
  sampleRate: number,
): { main: TimedMic; timing: Timing | null } | null {
  if (mic.silent) return null;
  const x = mic.channels[0]!;
  const layer = mic.piece === "sample";
  const piece = layer ? drumOfLayer(x, hits, sampleRate) : isDrum(mic.piece) ? mic.piece : null;
  const main = piece && mainMic(mics, piece);
  if (!main || main === mic) return null;
  const range = layer ? layerRange : secondRange;
  const strokes = clearStrokes(hits, piece, sampleRate);
  return {
    main,
    timing: measureTiming(main.channels[0]!, x, strokes, range, sampleRate, layer ? 0 : bodyCounts),
  };
}

/** When every drum arrives in every channel of the far mics, and the drift of their clocks by file. */
export function measureArrivals(
  mics: readonly TimedMic[],
  hits: readonly Hit[],
  sampleRate: number,
): { arrivals: Arrival[]; drifts: Map<string, number> } {
  const arrivals: Arrival[] = [];
  const drifts = new Map<string, number>();
  const drums = [...new Set(hits.map((h) => h.piece))].flatMap((piece) => {
    const main = mainMic(mics, piece)?.channels[0];
    return main ? [{ piece, main, strokes: clearStrokes(hits, piece, sampleRate) }] : [];
  });
  // A clock is judged by the drum that is struck most often.
  const judges = [...drums].filter((d) => d.piece === "snare" || d.piece === "kick").sort((a, b) => b.strokes.length - a.strokes.length); // prettier-ignore
  for (const mic of mics.filter((m) => farPieces.includes(m.piece) && !m.silent)) {
    const range = mic.piece === "room" ? roomRange : overheadRange;
    const judge = judges[0];
    const ppm = judge
      ? (measureDrift(judge.main, mic.channels[0]!, judge.strokes, range, sampleRate)?.ppm ?? 0)
      : 0;
    if (ppm !== 0) drifts.set(mic.file, ppm);
    for (const { piece, main, strokes } of drums)
      mic.channels.forEach((x, channel) => {
        const found = estimateDelay(main, x, strokes, range, sampleRate, ppm);
        if (!found) return;
        const { delay: delaySamples, polarity, confidence } = found;
        arrivals.push({ piece, mic: mic.file, channel, delaySamples, polarity, confidence });
      });
  }
  return { arrivals, drifts };
}
