import { decodeFrames } from "../../core/file/decodeFrames";
import { WholeFrames } from "../../core/file/wholeFrames";
import { placeStrokes, type PlacedSound } from "../../core/engine/oneShots/placeStrokes";
import { readLayer } from "../../core/engine/oneShots/readLayer";
import { memoryReader, type SongReader } from "../../core/engine/renderSong";
import { stretchOf, type Samples } from "../../core/signal/samples";
import { isLayer, type Song } from "../../core/song/song";
import type { Db } from "../db/pool";
import { listSongAudio } from "../db/queries/audio";
import { AppError } from "../errors";
import { ahead } from "./ahead";
import { sharedFrames } from "./shared";
import type { Spool, SpooledSamples } from "./spool";
import { readStoredFrames, type PlacedAudio } from "./storedFrames";

/** Audio of a song's mics on its time line, in the order of the mics. */
export async function audioOfMics(db: Db, songId: string, song: Song): Promise<PlacedAudio[]> {
  const rows = await listSongAudio(db, songId);
  return song.mics.map((m) => {
    const row = rows.find((r) => r.id === m.audio);
    if (!row) throw new AppError("not_found", `The audio of ${m.file} is missing from the store.`);
    return { audio: row, start: m.start };
  });
}

/** Decoded frames of all mics from a song frame on; fewer where a file ends. */
interface Window {
  readonly from: number;
  /** [mic][channel] */
  readonly mics: Float32Array[][];
}

async function readWindow(
  db: Db,
  placed: readonly PlacedAudio[],
  from: number,
  count: number,
  memoryFor: (frames: number) => Float32Array = (frames) => new Float32Array(frames),
): Promise<Window> {
  const start = Math.max(0, from);
  const stored = await readStoredFrames(db, placed, start, from + count - start);
  const mics = stored.map(({ skip, frames, bytes }, i) => {
    const { audio } = placed[i]!;
    const channels = Array.from({ length: audio.channels }, () => memoryFor(skip + frames));
    const whole = new WholeFrames(audio.frameBytes);
    let at = skip;
    for (const piece of bytes)
      whole.take(piece, (b, n) => {
        decodeFrames(b, audio, n, channels, at);
        at += n;
      });
    return channels;
  });
  return { from: start, mics };
}

/** A whole mic from the song's first frame on, decoded, where threads can see it. */
export async function readWhole(db: Db, placed: PlacedAudio): Promise<Float32Array[]> {
  const { mics } = await readWindow(db, [placed], 0, placed.start + placed.audio.frames, sharedFrames);
  return mics[0]!;
}

/** Frames of a mic that are put into a spool at once. */
const spooledAtOnce = 1 << 20;

/** A whole mic from the song's first frame on, decoded, in a spool; the next piece is on its way while one is written. */
async function spoolMic(db: Db, placed: PlacedAudio, spool: Spool): Promise<Samples[]> {
  const { start, audio } = placed;
  const frames = start + audio.frames;
  const channels: SpooledSamples[] = [];
  for (let ch = 0; ch < audio.channels; ch++) channels.push(await spool.take(frames));
  const pieces = Array.from(
    { length: Math.ceil(audio.frames / spooledAtOnce) },
    (_, n) => start + n * spooledAtOnce,
  );
  const read = (from: number) => readWindow(db, [placed], from, spooledAtOnce);
  for await (const { from, mics } of ahead(pieces, read))
    for (const [ch, signal] of channels.entries()) await spool.write(signal, from, mics[0]![ch]!);
  return channels;
}

/** A whole mic from the song's first frame on, decoded: in a spool where there is one, else in memory that threads share. */
export const heldMic = (db: Db, placed: PlacedAudio, spool: Spool | null): Promise<readonly Samples[]> =>
  spool ? spoolMic(db, placed, spool) : readWhole(db, placed);

/**
 * Whole mics one after another from the song's first frame on, decoded: in memory that threads share, the next on its way while one is
 * worked on, or in a spool.
 */
export async function* wholeMics(
  db: Db,
  placed: readonly PlacedAudio[],
  spool: Spool | null = null,
): AsyncGenerator<{ readonly channels: readonly Samples[]; readonly start: number }> {
  if (spool) {
    for (const mic of placed) yield { channels: await heldMic(db, mic, spool), start: mic.start };
    return;
  }
  const read = async (mic: PlacedAudio) => ({ channels: await readWhole(db, mic), start: mic.start });
  yield* ahead(placed, read);
}

/** Frames [from, from + count) of the song of all mics, whole: silence where a file is not. Shape  [mic][channel]. */
export async function readStretch(
  db: Db,
  placed: readonly PlacedAudio[],
  from: number,
  count: number,
): Promise<Float32Array[][]> {
  const { mics } = await readWindow(db, placed, from, count);
  return mics.map((channels) => channels.map((x) => stretchOf(x, 0, count)));
}

/** Reads stretches of all mics of a song: recordings as they are, layers at the strokes as they were played. */
export async function stretchesOf(
  db: Db,
  songId: string,
  song: Song,
): Promise<(from: number, count: number) => Promise<Float32Array[][]>> {
  const placed = await audioOfMics(db, songId, song);
  const layers = new Map<number, { sounds: readonly PlacedSound[]; file: Float32Array[] }>();
  for (const [m, mic] of song.mics.entries())
    if (isLayer(mic))
      layers.set(m, {
        sounds: placeStrokes(song, mic, false),
        file: await readWhole(db, { ...placed[m]!, start: 0 }),
      });
  return async (from, count) => {
    const mics = await readStretch(db, placed, from, count);
    for (const [m, { sounds, file }] of layers)
      mics[m]!.forEach((x, ch) => readLayer(sounds, memoryReader([file])(0, ch), from, count, x));
    return mics;
  };
}

/** A reader for `renderSong` that holds only a window of the song in memory and reads the next one ahead. */
export function windowReader(
  db: Db,
  placed: readonly PlacedAudio[],
  largestShift: number,
): { reader: SongReader; prefetch: (from: number, count: number) => Promise<void> } {
  let window: Window = {
    from: 0,
    mics: placed.map(({ audio: a }) => Array.from({ length: a.channels }, () => new Float32Array(0))),
  };
  const read = (from: number, count: number) =>
    readWindow(db, placed, from - largestShift, count + 2 * largestShift);
  let ahead: { from: number; coming: Promise<Window> } | null = null;
  return {
    prefetch: async (from, count) => {
      window = await (ahead?.from === from ? ahead.coming : read(from, count));
      ahead = { from: from + count, coming: read(from + count, count) };
      ahead.coming.catch(() => {}); // told when its turn comes
    },
    reader: (mic, channel) => (fileFrom, count, out, to) => {
      const { from: base, mics } = window;
      const from = fileFrom + placed[mic]!.start;
      const x = mics[mic]![channel]!;
      out.fill(0, to, to + count);
      const start = Math.max(base, from);
      const end = Math.min(base + x.length, from + count);
      if (end > start) out.set(x.subarray(start - base, end - base), to + start - from);
    },
  };
}
