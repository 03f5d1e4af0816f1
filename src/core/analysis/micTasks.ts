import { measureTempo } from "../grid/measureTempo";
import { measureBleed, type BleedAsk } from "../bleed/measureBleed";
import { bandEnergies, type BandEnergies, type EnergiesHere } from "../hits/bandEnergies";
import { findStrokes, type PieceEvents, type StrokesAsk } from "../hits/events";
import { risingColumns, type Rises } from "../hits/judge/instants";
import type { CleaningChoice } from "../facts/treatment";
import { cancelledMoment, judgeKit, type CleaningAsk, type MomentAsk } from "../clean/judgeKit";
import { cancelledMic, type CancelledAsk } from "../clean/cancelStretch";
import { judgeWays, type WaysAnswer, type WaysAsk } from "../clean/judgeWays";
import { busInput } from "../engine/busInput";
import { besideRecord, type BesideRecord } from "../blend/besideRecord";
import { pathEffect, type PathEffect } from "../blend/pathEffect";
import type { Verdict } from "../deliver/checks";
import { checkStretch } from "../deliver/checkStretch";
import { measureMasking, type MaskingAsk, type MaskingMeasured } from "../masking/measureMasking";
import type { HeardDrums, Hit, Song, Tempo } from "../song/song";
import { captureFromSong, type CaptureAsk } from "../layers/captureFromSong";
import type { ShotAudio } from "../layers/joinShots";
import { findLoopStrokes, type LoopStrokes } from "../loops/findLoopStrokes";
import { loopApart, type ApartAsk, type LoopApart } from "../loops/loopApart";
import { lookAtFile, type FileLook, type FileLookAsk } from "./lookAtFile";
import { micFacts, type MicFacts, type MicFactsAsk } from "./micFacts";
import {
  arrivalsIn,
  measureTiming,
  type ArrivalsAsk,
  type MicArrivals,
  type SecondAsk,
  type Timing,
} from "./timing";
import type { Samples } from "../signal/samples";
import { monoOf } from "../gather/channels";

/** All channels of a file. */
interface FileAsk {
  readonly channels: readonly Samples[];
  readonly sampleRate: number;
}

/** A bus, and all mics as recorded over a stretch from a song frame on. */
interface BusInputAsk {
  readonly song: Song;
  readonly bus: string;
  readonly from: number;
  readonly stretch: readonly (readonly Float32Array[])[];
}

/** What is asked about one mic, bus or kit at a time, so that it can be spread over threads. */
export interface MicTasks {
  energies: { ask: FileAsk; answer: EnergiesHere };
  rises: { ask: BandEnergies; answer: Rises };
  strokes: { ask: StrokesAsk; answer: PieceEvents[] };
  bleed: { ask: BleedAsk; answer: Record<string, HeardDrums[]> };
  facts: { ask: MicFactsAsk; answer: MicFacts };
  cancelled: { ask: CancelledAsk; answer: Float32Array[] };
  busInput: { ask: BusInputAsk; answer: Float32Array[] };
  path: { ask: BusInputAsk; answer: PathEffect };
  checks: { ask: Omit<BusInputAsk, "bus">; answer: Verdict[] };
  record: { ask: Omit<BusInputAsk, "bus"> & { record: readonly Float32Array[] }; answer: BesideRecord };
  masking: { ask: MaskingAsk; answer: MaskingMeasured };
  ways: { ask: WaysAsk; answer: WaysAnswer };
  moment: { ask: MomentAsk; answer: Float32Array[][] };
  cleaning: { ask: CleaningAsk; answer: Record<string, CleaningChoice> };
  capture: { ask: CaptureAsk; answer: ShotAudio[] };
  loop: { ask: ApartAsk; answer: LoopApart };
  loopStrokes: { ask: FileAsk; answer: LoopStrokes };
  look: { ask: FileLookAsk; answer: FileLook };
  second: { ask: SecondAsk; answer: Timing | null };
  tempo: { ask: { readonly hits: readonly Hit[]; readonly seconds: number }; answer: Tempo | null };
  arrivals: { ask: ArrivalsAsk; answer: MicArrivals };
}
export type MicTask = keyof MicTasks;

/** Does one task on this thread. */
export function doMicTask<K extends MicTask>(kind: K, ask: MicTasks[K]["ask"]): MicTasks[K]["answer"] {
  if (kind === "energies") {
    const { channels, sampleRate } = ask as FileAsk;
    return bandEnergies(monoOf(channels), sampleRate);
  }
  if (kind === "rises") return risingColumns(ask as BandEnergies);
  if (kind === "strokes") return findStrokes(ask as StrokesAsk);
  if (kind === "bleed") return measureBleed(ask as BleedAsk);
  if (kind === "cancelled") return cancelledMic(ask as CancelledAsk);
  if (kind === "busInput") {
    const { song, bus, stretch, from } = ask as BusInputAsk;
    return busInput(song, bus, stretch, from);
  }
  if (kind === "path") {
    const { song, bus, stretch, from } = ask as BusInputAsk;
    return pathEffect(song, bus, stretch, from);
  }
  if (kind === "checks") {
    const { song, stretch, from } = ask as MicTasks["checks"]["ask"];
    return checkStretch(song, stretch, from);
  }
  if (kind === "record") {
    const { song, stretch, from, record } = ask as MicTasks["record"]["ask"];
    return besideRecord(song, stretch, from, record);
  }
  if (kind === "masking") return measureMasking(ask as MaskingAsk);
  if (kind === "capture") return captureFromSong(ask as CaptureAsk);
  if (kind === "loopStrokes") {
    const { channels, sampleRate } = ask as FileAsk;
    return findLoopStrokes(channels, sampleRate);
  }
  if (kind === "loop") return loopApart(ask as ApartAsk);
  if (kind === "ways") return judgeWays(ask as WaysAsk);
  if (kind === "moment") return cancelledMoment(ask as MomentAsk);
  if (kind === "cleaning") return judgeKit(ask as CleaningAsk);
  if (kind === "look") return lookAtFile(ask as FileLookAsk);
  if (kind === "second") return measureTiming(ask as SecondAsk);
  if (kind === "tempo") {
    const { hits, seconds } = ask as MicTasks["tempo"]["ask"];
    return measureTempo(hits, seconds);
  }
  if (kind === "arrivals") return arrivalsIn(ask as ArrivalsAsk);
  return micFacts(ask as MicFactsAsk);
}

/** Does tasks of one kind, in any order; answers in the order of the asks. `done` is told after each; it may throw to cancel. */
export type MicTaskRunner = <K extends MicTask>(
  kind: K,
  asks: readonly MicTasks[K]["ask"][],
  done?: (count: number) => void,
) => Promise<MicTasks[K]["answer"][]>;

/** One after another on this thread. */
export const runHere: MicTaskRunner = async (kind, asks, done = () => {}) => {
  const answers = [];
  for (const ask of asks) {
    answers.push(doMicTask(kind, ask));
    done(answers.length);
  }
  return answers;
};
