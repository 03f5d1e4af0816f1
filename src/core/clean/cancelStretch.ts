import { blockwise } from "../engine/blockwise";
import { CancelStage } from "../engine/cancelStage";
import { PositionLine } from "../engine/positionLine";
import { SectionMap } from "../engine/sectionValues";
import type { AnyValues } from "../params";
import type { Song } from "../song/song";

/**
 * Mics of a song as their chains get them: cancelled where the song says so, latency taken off. What lies before the
 * stretch is not known, so that its first moments are those of a song that begins there.
 * Shape   stretch [mic][channel] as recorded, equally long, from song frame `from` on; result alike. Mics that are off
 *         come back unchanged.
 */
export function cancelStretch(
  song: Song,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): Float32Array[][] {
  // As recorded: what was cut since lies elsewhere in the song, not here.
  const uncut = { ...song, edits: [], mics: song.mics.map((m) => ({ ...m, ownEdits: [] })) };
  const stage = new CancelStage(uncut);
  stage.update(uncut, new SectionMap(song.sections, song.sampleRate));
  stage.reset(from);
  const positions = new PositionLine(stage.latency);
  positions.reset(from);
  return blockwise(stretch, stage.latency, (block, at) => {
    positions.put(from + at);
    stage.process(block, positions);
    return stage.outputs;
  });
}

/** One mic over a stretch, as Cancel leaves it with given values. */
export interface CancelledAsk {
  readonly song: Song;
  readonly mic: string;
  readonly values: AnyValues;
  /** Song frame at which the stretch begins; [mic][channel] as recorded. */
  readonly from: number;
  readonly stretch: readonly (readonly Float32Array[])[];
}
export function cancelledMic({ song, mic, values, from, stretch }: CancelledAsk): Float32Array[] {
  const set = {
    ...song,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map((p) => (p.type === "cancel" ? { ...p, params: values } : p)),
    })),
  };
  return cancelStretch(withCancelOf(set, mic, true), stretch, from)[
    song.mics.findIndex((m) => m.id === mic)
  ]!;
}

/** The song with cancelling switched on or off in one mic, and off in the others. */
export const withCancelOf = (song: Song, mic: string, on: boolean): Song => ({
  ...song,
  mics: song.mics.map((m) => ({
    ...m,
    chain: m.chain.map((p) => (p.type === "cancel" ? { ...p, on: on && m.id === mic } : p)),
  })),
});
