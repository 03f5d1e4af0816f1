import { estimateDelay } from "../align/delays";
import { placed } from "../engine/timeline";
import { detectHits, type DetectedHits } from "../hits/detectHits";
import { measureTempo } from "../hits/tempo";
import { gainToDb, peakOf } from "../signal/level";
import { farPieces, isDrum, mainMic, type Hit, type Piece, type Place, type Tempo } from "../song/song";
import type { Label } from "./labels";
import { labelsFromSound } from "./soundLabels";

/** A mic as it came: name, label, audio. */
export interface RecordedMic {
  file: string;
  label: Label;
  channels: Float32Array[];
  /** Frame of the song at which the channels begin; 0 when it is not told. */
  start?: number;
}

export interface AnalysedMic {
  file: string;
  channels: number;
  piece: Piece;
  place: Place;
  sure: number;
  silent: boolean;
  unplayed: boolean;
  peakDbfs: number;
  reference: string | null;
  polarity: 1 | -1;
  delaySamples: number;
  confidence: number;
}

export interface Arrival {
  piece: Piece;
  mic: string;
  channel: number;
  delaySamples: number;
  polarity: 1 | -1;
  confidence: number;
}

export interface KitAnalysis {
  sampleRate: number;
  durationSeconds: number;
  mics: AnalysedMic[];
  arrivals: Arrival[];
  tempo: Tempo | null;
  hits: Hit[];
  /** Events taken for bleed in the main mic of each piece. */
  bleed: { piece: Piece; events: { time: number; levelDb: number }[] }[];
}

/** Peak under which a file counts as silent, dBFS. */
const silentBelow = -60;
/** Labels less sure than this are made out by the sound. */
const sureEnough = 0.5;
/** Strokes used for a delay: enough to average bleed away, few enough to be quick. */
const strokesForDelay = 80;

/** Loud strokes of a drum that no stroke of another drum falls on, spread over the song; frames. */
function clearStrokes(hits: readonly Hit[], piece: Piece, sampleRate: number): number[] {
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

/** Labels whose name says too little are made out by their sound. */
function settleLabels(mics: readonly RecordedMic[], silent: readonly boolean[], sampleRate: number): Label[] {
  const unnamed = (m: RecordedMic, i: number) => m.label.sure < sureEnough && !silent[i];
  if (!mics.some(unnamed)) return mics.map((m) => m.label);
  const heard = labelsFromSound(
    mics.map((m, i) => ({ channels: m.channels, silent: silent[i]!, label: unnamed(m, i) ? null : m.label })),
    sampleRate,
  );
  return mics.map((m, i) => (unnamed(m, i) ? heard[i]! : m.label));
}

/** Reports the share done, 0..1, and may throw to cancel. */
export type Progress = (share: number) => void;

/**
 * Analyses a delivered kit: silent and unplayed mics, strokes, tempo, delays between mics of one drum and from every
 * drum to every far mic.
 * Shape   lengths of the channels may differ. Sample rate Hz.
 */
export function analyseKit(
  recorded: readonly RecordedMic[],
  sampleRate: number,
  progress: Progress = () => {},
): KitAnalysis {
  const mics = recorded.map((m) => ({ ...m, channels: placed(m.channels, m.start ?? 0) }));
  const peaks = mics.map((m) => gainToDb(Math.max(...m.channels.map((x) => peakOf(x)))));
  const silent = peaks.map((p) => p < silentBelow);
  const labels = settleLabels(mics, silent, sampleRate);
  const facts = mics.map((m, i) => ({
    ...m,
    label: labels[i]!,
    piece: labels[i]!.piece,
    place: labels[i]!.place,
    silent: silent[i]!,
  }));
  progress(0.05);
  const mains = [...new Set(facts.map((f) => f.piece))]
    .filter(isDrum)
    .map((piece) => mainMic(facts, piece))
    .filter((f) => f !== undefined);
  const found = detectHits(
    mains.map((f) => ({ piece: f.piece, audio: f.channels[0]! })),
    sampleRate,
    (share) => progress(0.05 + 0.65 * share),
  );
  const hits = found.flatMap((f) => f.hits).sort((a, b) => a.time - b.time);
  const frames = mics.reduce((most, m) => Math.max(most, m.channels[0]!.length), 0);
  const tempo = measureTempo(hits, frames / sampleRate);
  progress(0.75);
  const struck = new Set(hits.map((h) => h.piece));
  const analysed = facts.map((f, i): AnalysedMic => {
    const main = isDrum(f.piece) ? mainMic(facts, f.piece) : undefined;
    const second = main !== undefined && main !== f && !f.silent;
    const estimate = second
      ? estimateDelay(
          main.channels[0]!,
          f.channels[0]!,
          clearStrokes(hits, f.piece, sampleRate),
          { from: -0.006, to: 0.008 },
          sampleRate,
        )
      : null;
    return {
      file: f.file,
      channels: f.channels.length,
      piece: f.piece,
      place: f.place,
      sure: f.label.sure,
      silent: f.silent,
      unplayed: !f.silent && main !== undefined && !struck.has(f.piece),
      peakDbfs: peaks[i]!,
      reference: second ? main.file : null,
      polarity: estimate?.polarity ?? 1,
      delaySamples: estimate?.delay ?? 0,
      confidence: estimate?.confidence ?? 0,
    };
  });
  progress(0.85);
  const arrivals = measureArrivals(facts, hits, sampleRate);
  progress(1);
  return {
    sampleRate,
    durationSeconds: frames / sampleRate,
    mics: analysed,
    arrivals,
    tempo,
    hits,
    bleed: found.map((f: DetectedHits) => ({ piece: f.piece, events: f.bleed })),
  };
}

function measureArrivals(
  facts: readonly (RecordedMic & { piece: Piece; place: Place; silent: boolean })[],
  hits: readonly Hit[],
  sampleRate: number,
): Arrival[] {
  const arrivals: Arrival[] = [];
  const far = facts.filter((f) => farPieces.includes(f.piece) && !f.silent);
  for (const piece of new Set(hits.map((h) => h.piece))) {
    const main = mainMic(facts, piece)!;
    const strokes = clearStrokes(hits, piece, sampleRate);
    for (const f of far)
      f.channels.forEach((x, channel) => {
        const to = f.piece === "room" ? 0.04 : 0.015;
        const estimate = estimateDelay(main.channels[0]!, x, strokes, { from: -0.003, to }, sampleRate);
        if (estimate)
          arrivals.push({
            piece,
            mic: f.file,
            channel,
            delaySamples: estimate.delay,
            polarity: estimate.polarity,
            confidence: estimate.confidence,
          });
      });
  }
  return arrivals;
}
