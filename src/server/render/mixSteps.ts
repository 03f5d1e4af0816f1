import { editedTime, placed } from "../../core/engine/timeline";
import { analyseKit, type KitAnalysis, type RecordedMic } from "../../core/gather/analyseKit";
import { gatherFacts } from "../../core/gather/facts";
import type { Facts, Proposal } from "../../core/gather/proposal";
import { proposeStep } from "../../core/gather/propose";
import { analysisThreads, type AnalysisThreads } from "../analysis/threads";
import { measureTempo } from "../../core/hits/tempo";
import { newMic, newSong } from "../../core/song/create";
import { takeAnalysis } from "../../core/song/fromAnalysis";
import { applyOperation } from "../../core/song/operations";
import { steps, type Song, type Step, type TightenSettings } from "../../core/song/song";
import { measureTightness, planEdits, type Tightness } from "../../core/tighten/planEdits";

export interface MixOptions {
  through: Step;
  tighten: Partial<TightenSettings>;
  bpm?: number;
}

export interface Mix {
  song: Song;
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
  return applyOperation(raw, takeAnalysis(raw, analysis)).song;
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

async function mixWith(
  { run }: AnalysisThreads,
  title: string,
  mics: readonly RecordedMic[],
  sampleRate: number,
  options: MixOptions,
): Promise<Mix> {
  const analysis = await analyseKit(mics, sampleRate, { run });
  let song = songOf(title, mics, sampleRate, analysis);
  const facts = await gatherFacts(
    song.mics,
    mics.map((m) => placed(m.channels, m.start ?? 0)),
    analysis,
    run,
  );
  const last = steps.indexOf(options.through);
  const taken: Proposal[] = [];
  let tightness: Tightness | null = null;
  for (const step of steps.slice(0, last + 1)) {
    if (step === "tighten") {
      const tempo = options.bpm
        ? measureTempo(song.hits, analysis.durationSeconds, 4, options.bpm)
        : song.tempo;
      const tighten = { ...song.tighten, ...options.tighten };
      const edits = planEdits(song.hits, tempo, tighten, sampleRate);
      song = applyOperation(song, { op: "setSong", values: { tempo, tighten, edits } }).song;
      if (tempo)
        tightness = measureTightness(
          song.hits,
          tempo,
          tighten.grid,
          edits,
          (t) => editedTime(edits, t, sampleRate),
          sampleRate,
        );
      continue;
    }
    if (step === "gather" && last < steps.indexOf("shape")) continue;
    for (const proposal of proposeStep(song, facts, step)) {
      song = applyOperation(song, proposal.operation).song;
      taken.push(proposal);
    }
  }
  return { song, taken, tightness, analysis, facts };
}
