import { blockFrames, Engine } from "./engine";
import { readEdited, type ReadSource } from "./timeline";
import type { Song } from "../song/song";

/** Reads one channel of one mic as recorded; positions outside the file are silence. */
export type SongReader = (mic: number, channel: number) => ReadSource;

export interface RenderTargets {
  kit: boolean;
  stems: boolean;
  buses: boolean;
}

/** Gets frames as they are rendered, in order; `name` is "kit", "stem:<mic id>" or "bus:<bus id>". */
export type RenderSink = (name: string, channels: readonly Float32Array[], frames: number) => void;

/**
 * Renders the whole song offline, the same samples as live play from the start.
 * All outputs have `song.frames` frames and begin at the song's first frame: latencies are taken off.
 * Progress is reported about every second of audio and may throw to cancel; `prefetch` is awaited before its frames
 * are read, for readers that must load them first.
 */
export async function renderSong(
  song: Song,
  reader: SongReader,
  targets: RenderTargets,
  sink: RenderSink,
  progress: (share: number) => void = () => {},
  prefetch: (from: number, count: number) => Promise<void> = async () => {},
): Promise<void> {
  const engine = Engine.of(song);
  const inputs = song.mics.map((m) =>
    Array.from({ length: m.channels }, () => new Float32Array(blockFrames)),
  );
  const readers = song.mics.map((m, i) => Array.from({ length: m.channels }, (_, ch) => reader(i, ch)));
  const outlets = listOutlets(song, engine, targets);
  const total = song.frames + engine.latency;
  const window = blockFrames * 512;
  for (let at = 0; at < total; at += blockFrames) {
    if (at % window === 0) {
      await prefetch(at - 8192, window + 16384);
      progress(Math.min(1, at / total));
    }
    for (let m = 0; m < inputs.length; m++)
      for (let ch = 0; ch < inputs[m]!.length; ch++) {
        inputs[m]![ch]!.fill(0);
        if (at < song.frames) readEdited(song.edits, readers[m]![ch]!, at, blockFrames, inputs[m]![ch]!);
      }
    engine.process(inputs, at);
    for (const { name, latency, buffers } of outlets) {
      const from = Math.max(0, latency - at);
      const to = Math.min(blockFrames, song.frames + latency - at);
      if (to > from) sink(name, from === 0 ? buffers : buffers.map((b) => b.subarray(from)), to - from);
    }
  }
  progress(1);
}

function listOutlets(song: Song, engine: Engine, targets: RenderTargets) {
  const outlets: { name: string; latency: number; buffers: readonly Float32Array[] }[] = [];
  if (targets.kit) outlets.push({ name: "kit", latency: engine.latency, buffers: engine.mixer.output });
  if (targets.stems) song.mics.forEach((m, i) => outlets.push({ name: `stem:${m.id}`, ...engine.stem(i) }));
  if (targets.buses)
    for (const b of song.buses) outlets.push({ name: `bus:${b.id}`, ...engine.mixer.busOutput(b.id) });
  return outlets;
}

/** Reader over audio that lies in memory, per mic and channel. */
export const memoryReader =
  (audio: readonly (readonly Float32Array[])[]): SongReader =>
  (mic, channel) =>
  (from, count, out, to) => {
    const x = audio[mic]![channel]!;
    const start = Math.max(0, from);
    const end = Math.min(x.length, from + count);
    out.fill(0, to, to + count);
    if (end > start) out.set(x.subarray(start, end), to + start - from);
  };
