import { onTimeLine, type KitAnalysis, type RecordedMic } from "../../core/analysis/analysed";
import { analyseKit } from "../../core/analysis/analyseKit";
import { measureSong } from "../../core/analysis/measureSong";
import type { EnergiesBySignal } from "../../core/hits/bandEnergies";
import type { Facts } from "../../core/facts/facts";
import { measureTempo } from "../../core/grid/measureTempo";
import { proposeStep } from "../../core/proposals/propose";
import { takeTogether } from "../../core/proposals/takeTogether";
import { respeed } from "../../core/signal/respeed";
import { newMic, newSong } from "../../core/song/create";
import { applyAll, applyOperation } from "../../core/song/operations";
import type { Proposal } from "../../core/song/proposal";
import { routed } from "../../core/song/routes";
import {
  steps,
  type Mic,
  type ShapingSettings,
  type Song,
  type Step,
  type TightenSettings,
} from "../../core/song/song";
import { withQuick, type QuickWishes } from "../../core/shape/quick/quickSong";
import { cutOperation } from "../../core/tighten/cuts";
import { memoryMaterial } from "../../core/tighten/material";
import { measureTightness, type Tightness } from "../../core/tighten/tightness";
import { analysisThreads, type AnalysisThreads } from "../analysis/threads";
import { shared } from "../audio/shared";

export interface MixOptions {
  through: Step;
  tighten: Partial<TightenSettings>;
  shaping?: ShapingSettings;
  quick?: QuickWishes;
  bpm?: number | undefined;
  /** Whether beats follow the playing; undefined: where it is clearly better. */
  follow?: "never" | "always" | undefined;
}

export interface Mix {
  song: Song;
  /** The mics as the song plays them: on one clock. */
  mics: readonly RecordedMic[];
  taken: Proposal[];
  tightness: Tightness | null;
  analysis: KitAnalysis;
  facts: Facts;
}

type Placed = readonly (readonly Float32Array[])[];

/** A song around recorded mics, with nothing found and nothing decided. */
function songOf(
  title: string,
  mics: readonly RecordedMic[],
  sampleRate: number,
  clocks: readonly number[],
): Song {
  const made = mics.map((m, i) => {
    const mic = newMic({
      id: `m${i + 1}`,
      file: m.file,
      audio: null,
      channels: m.channels.length,
      frames: m.channels[0]!.length,
      start: m.start ?? 0,
      ...m.label,
    });
    return { ...mic, clockPpm: clocks[i]! };
  });
  return routed(newSong(title, sampleRate, made));
}

/**
 * Applies the proposals of all steps up to `through`. Up to and including Clean no trim is set, so that levels can be
 * compared with the files that came in.
 */
export async function mixSteps(
  title: string,
  mics: readonly RecordedMic[],
  sampleRate: number,
  options: MixOptions,
): Promise<Mix> {
  const threads = analysisThreads();
  return mixWith(threads, title, mics, sampleRate, options).finally(threads.close);
}

/** The song with the tempo and the moves that are asked for. */
async function tightened(
  song: Song,
  audio: Placed,
  durationSeconds: number,
  options: MixOptions,
): Promise<Song> {
  const { hits } = song;
  const { bpm, follow } = options;
  const tempo = bpm || follow ? measureTempo(hits, durationSeconds, { bpm, follow }) : song.tempo;
  const tighten = { ...song.tighten, ...options.tighten };
  const channelsOf = (mics: readonly Mic[]) =>
    song.mics.flatMap((m, i) => (mics.some((x) => x.id === m.id) ? audio[i]! : []));
  const operation = await cutOperation(song, { tempo, tighten }, (mics) => memoryMaterial(channelsOf(mics)));
  return applyOperation(song, operation).song;
}

/** Clocks that run off are corrected by less than this in no case, ppm: a frame in half a minute. */
const leastClockPpm = 0.7;

interface OneClock {
  readonly mics: readonly RecordedMic[];
  /** The same from the song's first frame on. */
  readonly placed: readonly RecordedMic[];
  readonly analysis: KitAnalysis;
  readonly energies: EnergiesBySignal;
  /** By what each clock was corrected, ppm. */
  readonly clocks: readonly number[];
}

/** A mic from the song's first frame on, in memory that threads share. */
function forThreads(mic: RecordedMic): Omit<RecordedMic, "start"> {
  const { channels, ...whole } = onTimeLine(mic);
  return { ...whole, channels: channels.map(shared) };
}

/** The mics on one clock, analysed: where one runs off it is read faster or slower, and all is measured anew. */
async function withClocks(
  recorded: readonly RecordedMic[],
  placed: readonly RecordedMic[],
  sampleRate: number,
  { through }: MixOptions,
  run: AnalysisThreads["run"],
): Promise<OneClock> {
  const energies: EnergiesBySignal = new Map();
  const analysis = await analyseKit(placed, sampleRate, { run, energies });
  const clocks = analysis.mics.map((m) => (Math.abs(m.driftPpm) < leastClockPpm ? 0 : m.driftPpm));
  if (steps.indexOf(through) < steps.indexOf("align") || clocks.every((ppm) => ppm === 0))
    return { mics: recorded, placed, analysis, energies, clocks: recorded.map(() => 0) };
  const mics = recorded.map((m, i) => {
    const ppm = clocks[i]!;
    return ppm === 0 ? m : { ...m, channels: m.channels.map((x) => respeed(x, ppm)) };
  });
  const anew = mics.map(forThreads);
  energies.clear();
  return {
    mics,
    placed: anew,
    analysis: await analyseKit(anew, sampleRate, { run, energies }),
    energies,
    clocks,
  };
}

async function mixWith(
  { run, runBeside }: AnalysisThreads,
  title: string,
  recorded: readonly RecordedMic[],
  sampleRate: number,
  options: MixOptions,
): Promise<Mix> {
  const came = recorded.map(forThreads);
  const looking = runBeside(
    "look",
    came.map(({ channels }, i) => ({ channels, start: recorded[i]!.start ?? 0, sampleRate })),
  );
  looking.catch(() => {}); // told when it is waited for
  const { mics, placed, analysis, energies, clocks } = await withClocks(
    recorded,
    came,
    sampleRate,
    options,
    run,
  );
  const looks = clocks.every((ppm) => ppm === 0) ? await looking : undefined;
  const audio = placed.map((m) => m.channels);
  const last = steps.indexOf(options.through);
  const plain = songOf(title, mics, sampleRate, clocks);
  const cleaning = last >= steps.indexOf("clean");
  const shaping = last >= steps.indexOf("shape");
  const measured = await measureSong(plain, analysis, audio, {
    run,
    cleaning,
    shaping,
    known: { looks, energies },
  });
  const { facts } = measured;
  let song = options.shaping ? { ...measured.song, shaping: options.shaping } : measured.song;
  const taken: Proposal[] = [];
  let tightness: Tightness | null = null;
  for (const step of steps.slice(0, last + 1)) {
    if (step === "tighten") {
      song = await tightened(song, audio, analysis.durationSeconds, options);
      tightness = measureTightness(song);
      continue;
    }
    if (step === "gather" && last < steps.indexOf("shape")) continue;
    const proposals = proposeStep(song, facts, step);
    song = applyAll(song, takeTogether(song, proposals));
    taken.push(...proposals);
    if (step === "shape" && options.quick) song = withQuick(song, facts, audio, options.quick);
  }
  return { song, mics, taken, tightness, analysis, facts };
}
