import { busInput } from "../engine/busInput";
import { memoryStretch } from "../engine/memoryStretch";
import { processChain } from "../engine/processChain";
import { heardDrums, strokesIn } from "../shape/heardDrums";
import { framesWithin } from "../hits/snippets";
import { thresholdOver } from "../shape/fitThreshold";
import { chainBefore, strokeEffect, type StrokeEffect } from "../shape/hitReductions";
import { median } from "../signal/level";
import type { Bus, ProcessorState, Song } from "../song/song";

type Params = ProcessorState["params"];

/** What may be asked of a processor before it is set: what it does to the strokes that come into it. */
export interface Trial {
  /** The threshold at which half of the strokes are brought down by `wishedDb`, dBFS. */
  threshold(params: Params, wishedDb: number): Promise<number>;
  /** How much louder, and how much higher by their peaks, strokes come out of it, medians, dB. */
  effect(params: Params): Promise<{ readonly louder: number; readonly peaks: number }>;
}

/** The figures of a trial from what was measured of every stroke. */
export const trialFigures = (found: StrokeEffect): { louder: number; peaks: number } => ({
  louder: found.loudnessAfter.whole - found.loudnessBefore.whole,
  peaks: found.peakAfter.length > 0 ? median(found.peakAfter.map((p, i) => p - found.peakBefore[i]!)) : 0,
});

/**
 * A trial over audio in memory: a processor of a bus, by what comes into it over the stretch in which its drums have most strokes.
 * Shape  audio [mic][channel] as recorded, from each mic's own start on.
 */
export function memoryTrial(
  song: Song,
  audio: readonly (readonly Float32Array[])[],
  bus: Bus,
  state: ProcessorState,
): Trial {
  const { sampleRate } = song;
  const { from, stretch } = memoryStretch(song, audio, heardDrums(song, bus));
  const frames = stretch[0]![0]!.length;
  const { mains, all } = strokesIn(song, bus);
  const here = (of: readonly number[]) => framesWithin(of, from, frames);
  const hits = Float64Array.from(here(all));
  const before = chainBefore(bus.chain, state.id).filter((p) => p.on);
  const came = busInput(song, bus.id, stretch, from);
  const input = before.length > 0 ? processChain(before, came, sampleRate, hits) : came;
  const as = (params: Params): ProcessorState => ({ ...state, params: { ...state.params, ...params } });
  return {
    threshold: async (params, wishedDb) =>
      thresholdOver(input[0]!, here(mains), as(params), wishedDb, sampleRate).threshold,
    effect: async (params) => trialFigures(strokeEffect(as(params), input, here(mains), hits, sampleRate)),
  };
}
