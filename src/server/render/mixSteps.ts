import { measureBleed } from "../../core/bleed/measureBleed";
import { placed } from "../../core/engine/timeline";
import type { KitAnalysis, RecordedMic } from "../../core/analysis/analysed";
import { analyseKit } from "../../core/analysis/analyseKit";
import { cleaningAsk } from "../../core/clean/judgeKit";
import { gatherFacts } from "../../core/analysis/measureFacts";
import type { Facts } from "../../core/facts/facts";
import type { Proposal } from "../../core/song/proposal";
import { proposeStep } from "../../core/proposals/propose";
import { analysisThreads, type AnalysisThreads } from "../analysis/threads";
import { measureTempo } from "../../core/grid/measureTempo";
import { newMic, newSong } from "../../core/song/create";
import { takeAnalysis } from "../../core/analysis/takeAnalysis";
import { respeed } from "../../core/signal/respeed";
import { applyAll, applyOperation } from "../../core/song/operations";
import { routed } from "../../core/song/routes";
import { isKitMic, steps, type Mic, type Song, type Step, type TightenSettings } from "../../core/song/song";
import { aloneOperations } from "../../core/tighten/alone";
import { joinSeams, type Material } from "../../core/tighten/material";
import { planSeams } from "../../core/tighten/planEdits";
import { measureTightness, type Tightness } from "../../core/tighten/tightness";

export interface MixOptions {
  through: Step;
  tighten: Partial<TightenSettings>;
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

/** A song around recorded mics, with what the analysis found and nothing decided. */
export function songOf(
  title: string,
  mics: readonly RecordedMic[],
  sampleRate: number,
  analysis: KitAnalysis,
): Song {
  const raw = newSong(
    title,
    sampleRate,
    mics.map((m, i) =>
      newMic({
        id: `m${i + 1}`,
        file: m.file,
        audio: null,
        channels: m.channels.length,
        frames: m.channels[0]!.length,
        start: m.start ?? 0,
        ...m.label,
      }),
    ),
  );
  const song = routed(raw);
  return applyOperation(song, takeAnalysis(song, analysis)).song;
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

/** The song with the tempo and the moves that are asked for, its joints chosen by the recording. */
async function tightened(
  song: Song,
  mics: readonly RecordedMic[],
  { durationSeconds }: KitAnalysis,
  options: MixOptions,
): Promise<Song> {
  const { hits, sampleRate } = song;
  const tempo =
    options.bpm || options.follow
      ? measureTempo(hits, durationSeconds, { bpm: options.bpm, follow: options.follow })
      : song.tempo;
  const tighten = { ...song.tighten, ...options.tighten };
  const seams = planSeams({ ...song, tempo, tighten });
  const material = (of: readonly Mic[]) => materialOf(mics.filter((m) => of.some((x) => x.file === m.file)));
  const kit = song.mics.filter((m) => isKitMic(song, m));
  const edits = await joinSeams(seams, material(kit), sampleRate);
  const moved = applyOperation(song, { op: "setSong", values: { tempo, tighten, edits } }).song;
  return applyAll(moved, await aloneOperations(moved, material));
}

/** Recorded mics in memory as joints are chosen by them. */
function materialOf(mics: readonly RecordedMic[]): Material {
  const channels = mics.flatMap((m) => placed(m.channels, m.start ?? 0));
  return {
    load: async (from, to) =>
      channels.map((x) => {
        const y = new Float32Array(to - from);
        const start = Math.max(0, from);
        if (to > start) y.set(x.subarray(start, Math.min(x.length, to)), start - from);
        return y;
      }),
  };
}

/** Clocks that run off are corrected by less than this in no case, ppm: a frame in half a minute. */
const leastClockPpm = 0.7;

/** The mics on one clock, analysed: where one runs off it is read faster or slower, and all is measured anew. */
async function withClocks(
  recorded: readonly RecordedMic[],
  sampleRate: number,
  { through }: MixOptions,
  run: AnalysisThreads["run"],
): Promise<{ mics: readonly RecordedMic[]; analysis: KitAnalysis; clocks: number[] }> {
  const analysis = await analyseKit(recorded, sampleRate, { run });
  const clocks = analysis.mics.map((m) => (Math.abs(m.driftPpm) < leastClockPpm ? 0 : m.driftPpm));
  if (steps.indexOf(through) < steps.indexOf("align") || clocks.every((ppm) => ppm === 0))
    return { mics: recorded, analysis, clocks: recorded.map(() => 0) };
  const mics = recorded.map((m, i) => {
    const ppm = clocks[i]!;
    return ppm === 0 ? m : { ...m, channels: m.channels.map((x) => respeed(x, ppm)) };
  });
  return { mics, analysis: await analyseKit(mics, sampleRate, { run }), clocks };
}

async function mixWith(
  { run }: AnalysisThreads,
  title: string,
  recorded: readonly RecordedMic[],
  sampleRate: number,
  options: MixOptions,
): Promise<Mix> {
  const { mics, analysis, clocks } = await withClocks(recorded, sampleRate, options, run);
  let song = songOf(title, mics, sampleRate, analysis);
  for (const [i, clockPpm] of clocks.entries())
    song = applyOperation(song, { op: "setMic", mic: song.mics[i]!.id, values: { clockPpm } }).song;
  const audio = mics.map((m) => placed(m.channels, m.start ?? 0));
  const bleed = measureBleed(song.mics, audio, song.hits, sampleRate);
  song = applyOperation(song, { op: "setSong", values: { bleed } }).song;
  const gathered = await gatherFacts(song.mics, audio, analysis, run);
  const last = steps.indexOf(options.through);
  const judged =
    last < steps.indexOf("clean") ? [] : await run("cleaning", [cleaningAsk(song, gathered, audio)]);
  const facts = { ...gathered, cleaning: judged[0] ?? {} };
  const taken: Proposal[] = [];
  let tightness: Tightness | null = null;
  for (const step of steps.slice(0, last + 1)) {
    if (step === "tighten") {
      song = await tightened(song, mics, analysis, options);
      const { tempo, hits, tighten, sections, edits } = song;
      tightness = tempo && measureTightness(hits, tempo, tighten, sections, edits, sampleRate);
      continue;
    }
    if (step === "gather" && last < steps.indexOf("shape")) continue;
    for (const proposal of proposeStep(song, facts, step)) {
      song = applyOperation(song, proposal.operation).song;
      taken.push(proposal);
    }
  }
  return { song, mics, taken, tightness, analysis, facts };
}
