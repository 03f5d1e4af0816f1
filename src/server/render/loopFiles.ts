import { hitsOfLoop } from "../../core/loops/findLoopStrokes";
import { knownStrokes, loopApart } from "../../core/loops/loopApart";
import { apartOperation, loopPartNames } from "../../core/loops/loopParts";
import { applyAll, applyOperation } from "../../core/song/operations";
import { relabel } from "../../core/song/relabel";
import type { Song } from "../../core/song/song";
import type { AudioByFile } from "./layerFiles";

/** A part of a loop and its name. */
export interface PartFile {
  readonly file: string;
  readonly channels: Float32Array[];
}

/**
 * A song with one of its files taken apart as a loop, and the parts, which its audio must be kept beside.
 * Errors  Error in one line: no such file, or no stroke in it.
 */
export function withLoopApart(
  song: Song,
  file: string,
  audio: AudioByFile,
): { song: Song; parts: PartFile[] } {
  const named = song.mics.find((m) => m.file === file);
  const channels = named && audio.get(file);
  if (!named || !channels)
    throw new Error(`--loop is "${file}"; the folder holds ${song.mics.map((m) => m.file).join(", ")}`);
  const place = named.channels === 2 ? "pair" : "close";
  const labelled = applyAll(song, relabel(song, [named.id], { piece: "loop", place }));
  const loop = labelled.mics.find((m) => m.id === named.id)!;
  const known = knownStrokes(labelled, loop);
  let apart;
  try {
    apart = loopApart({ channels, sampleRate: song.sampleRate, known });
  } catch (error) {
    throw new Error(`${file}: ${(error as Error).message}`);
  }
  const stored = loopPartNames.map((name) => ({ name, id: `${loop.id}-${name}`, audio: null }));
  const hits = known ? [] : hitsOfLoop(apart.found, loop.start / song.sampleRate);
  const done = applyOperation(labelled, apartOperation(labelled, loop, stored, hits)).song;
  return {
    song: done,
    parts: stored.map(({ name, id }) => ({
      file: done.mics.find((m) => m.id === id)!.file,
      channels: apart.parts[name],
    })),
  };
}
