import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { placeStrokes, playedTimes } from "../../core/engine/oneShots/placeStrokes";
import { readLayer } from "../../core/engine/oneShots/readLayer";
import { memoryReader } from "../../core/engine/renderSong";
import { alignLayer } from "../../core/layers/alignLayer";
import { shotsOfFile } from "../../core/layers/findOneShots";
import { joinShots, type ShotAudio } from "../../core/layers/joinShots";
import { addLayerMic, layerMic } from "../../core/layers/layerMic";
import { takePhase } from "../../core/layers/takePhase";
import { layerLimits } from "../../core/song/layer";
import { mainMic, type LayerMic, type Piece, type Song } from "../../core/song/song";
import { applyAll, applyOperation } from "../../core/song/operations";
import { resample } from "../audio/convert";
import { decodeFile } from "../audio/decodeFile";

/** A layer that is asked for: its drum, and files of one-shots. */
export interface LayerWish {
  readonly drum: Piece;
  readonly files: readonly string[];
}

/** Audio of a song's mics by file name. */
export type AudioByFile = ReadonlyMap<string, readonly Float32Array[]>;

/** One-shots of a file on disk at the song's rate. Errors  Error that names the file. */
async function shotsOf(path: string, sampleRate: number): Promise<ShotAudio[]> {
  try {
    const read = await decodeFile(new Uint8Array(readFileSync(path)));
    const audio = await resample(read.channels, read.sampleRate, sampleRate);
    const name = basename(path).replace(/\.[^.]*$/, "");
    return shotsOfFile(name, audio, sampleRate);
  } catch (error) {
    throw new Error(`${path}: ${(error as Error).message}`);
  }
}

/** The layer turned and moved so that its low end adds to that of the drum's mic; as it is where there is none. */
function inPhase(song: Song, mic: LayerMic, file: readonly Float32Array[], audio: AudioByFile): Song {
  const main = mainMic(song.mics, mic.layer.drum);
  const recorded = main && audio.get(main.file)?.[0];
  if (!recorded) return song;
  const played = new Float32Array(song.frames);
  readLayer(placeStrokes(song, mic, false), memoryReader([file])(0, 0), 0, song.frames, played);
  // A layer that is made just now plays at its strokes.
  const found = alignLayer(recorded, played, playedTimes(song, mic.layer), song.sampleRate);
  return applyOperation(song, takePhase(mic, found)).song;
}

/**
 * A song with one layer more, and the file that its sounds lie in, which its audio must be kept beside.
 * Errors  Error in one line: a file that cannot be read or holds no sound, too many sounds, a drum without strokes.
 */
export async function withLayer(
  song: Song,
  { drum, files }: LayerWish,
  audio: AudioByFile,
): Promise<{ song: Song; file: string; channels: Float32Array[] }> {
  if (!song.hits.some((h) => h.piece === drum))
    throw new Error(`no stroke of ${drum} was found: a layer under it would never be heard`);
  const shots: ShotAudio[] = [];
  for (const path of files) shots.push(...(await shotsOf(path, song.sampleRate)));
  if (shots.length > layerLimits.sounds)
    throw new Error(
      `the files for ${drum} hold ${shots.length} sounds; a layer has at most ${layerLimits.sounds}`,
    );
  const { channels, sounds } = joinShots(shots);
  const facts = {
    id: `layer-${drum}-${song.mics.length}`,
    audio: null,
    drum,
    sounds,
    channels: channels.length,
    frames: channels[0]!.length,
  };
  const mic = layerMic(song, facts);
  const added = applyAll(song, addLayerMic(song, mic));
  const there = added.mics.find((m) => m.id === mic.id) as LayerMic;
  return { song: inPhase(added, there, channels, audio), file: mic.file, channels };
}
