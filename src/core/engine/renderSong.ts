import { laneFrames, LaneMemory } from "../lanes/laneMemory";
import { finished } from "./engine";
import { chainLatency, lateMics } from "./micBank";
import { PositionLine } from "./positionLine";
import { Mixer } from "./mixer";
import { localRunner, type BankRunner } from "./bankRunner";
import { RenderWindow, windowBytes, windowFrames } from "./renderWindow";
import { readingsOf, readMic } from "./oneShots/readings";
import { startingAt, type ReadSource } from "./timeline";
import type { Song } from "../song/song";

/** Reads one channel of one mic as recorded, by frames of its file; positions outside the file are silence. */
export type SongReader = (mic: number, channel: number) => ReadSource;

export interface RenderTargets {
  kit: boolean;
  stems: boolean;
  buses: boolean;
}

/** Gets frames as they are rendered, in order; `name` is "kit", "stem:<mic id>" or "bus:<bus id>". */
export type RenderSink = (name: string, channels: readonly Float32Array[], frames: number) => void;

export interface RenderOptions {
  /** Told after every window; may throw to cancel. */
  progress?: (share: number) => void;
  /** Awaited before these frames of the song are read (edits reach beyond them), for readers that must load first. */
  prefetch?: (from: number, count: number) => Promise<void>;
  /** Threads that run the mics and the stage before them; this thread alone when it is not given. */
  runner?: BankRunner;
}

/** Windows under way: one is mixed, one goes through the mics, one through the stage before them. */
const windowsAtOnce = 3;

/** One thing that is written, with its latency still on it. */
interface Outlet {
  readonly name: string;
  readonly latency: number;
}

/**
 * Renders the whole song offline, the same samples as live play from the start, whatever the number of threads: mics run
 * apart, and the mix of what they give is made on this thread in one order.
 * All outputs have `song.frames` frames and begin at the song's first frame: latencies are taken off.
 */
export async function renderSong(
  song: Song,
  reader: SongReader,
  targets: RenderTargets,
  sink: RenderSink,
  { progress = () => {}, prefetch = async () => {}, runner = localRunner(song) }: RenderOptions = {},
): Promise<void> {
  const memories = Array.from({ length: windowsAtOnce }, () => runner.allocate(windowBytes(song)));
  const windows = memories.map((m) => new RenderWindow(song, m));
  const mixer = finished(Mixer.build(song, LaneMemory.for(song.buses.length + lateMics(song).size)));
  mixer.reset(0);
  const positions = new PositionLine(mixer.latency);
  const readers = song.mics.map((m, i) =>
    Array.from({ length: m.channels }, (_, ch) => startingAt(reader(i, ch), m.layer ? 0 : m.start)),
  );
  const readings = readingsOf(song);
  const total = song.frames + mixer.latency;
  const write = (outlet: Outlet, channels: readonly Float32Array[], at: number, count: number) => {
    const from = Math.max(0, outlet.latency - at);
    const to = Math.min(count, song.frames + outlet.latency - at);
    if (to > from)
      sink(outlet.name, from === 0 ? channels : channels.map((b) => b.subarray(from)), to - from);
  };
  /** Reads a window and sets the mics to work on it; `done` when they are through. */
  const begin = async (index: number, at: number): Promise<{ done: Promise<void> }> => {
    await prefetch(at, windowFrames);
    const { inputs } = windows[index]!;
    readers.forEach((channels, m) =>
      channels.forEach((read, ch) => {
        const x = inputs[m]![ch]!;
        const count = Math.max(0, Math.min(windowFrames, song.frames - at));
        readMic(readings[m]!, read, at, count, x);
        x.fill(0, count);
      }),
    );
    const done = runner.run(index, at);
    done.catch(() => {}); // awaited when its window's turn has come
    return { done };
  };
  const waiting = new Map(mixer.lateMics.map((l) => [l.mic.id, l]));
  const finish = (index: number, at: number): void => {
    const { outputs, stems, inputs } = windows[index]!;
    if (targets.stems)
      song.mics.forEach((m, i) => {
        if (waiting.has(m.id)) return;
        const latency = chainLatency(m.chain, song.sampleRate);
        write({ name: `stem:${m.id}`, latency }, stems[i]!, at, windowFrames);
      });
    if (!targets.kit && !targets.buses && waiting.size === 0) return;
    const ready = outputs.map((taps, m) => (waiting.has(song.mics[m]!.id) ? [] : taps));
    for (let b = 0; b < windowFrames && at + b < total; b += laneFrames) {
      const cut = (x: Float32Array) => x.subarray(b, b + laneFrames);
      positions.put(at + b);
      mixer.process(
        ready.map((taps) => taps.map((channels) => channels.map(cut))),
        inputs.map((channels) => channels.map(cut)),
        positions,
      );
      if (targets.kit) write({ name: "kit", latency: mixer.latency }, mixer.output, at + b, laneFrames);
      if (targets.stems)
        for (const { mic, node } of mixer.lateMics)
          write({ name: `stem:${mic.id}`, latency: node.latency }, node.channels, at + b, laneFrames);
      if (targets.buses)
        for (const { id } of song.buses) {
          const { latency, buffers } = mixer.busOutput(id);
          write({ name: `bus:${id}`, latency }, buffers, at + b, laneFrames);
        }
    }
  };
  try {
    runner.open(windows, memories);
    const begun: { done: Promise<void> }[] = [];
    let next = 0;
    const indexOf = (at: number): number => (at / windowFrames) % windowsAtOnce;
    const fill = async () => {
      for (; begun.length < windowsAtOnce - 1 && next < total; next += windowFrames)
        begun.push(await begin(indexOf(next), next));
    };
    for (let at = 0; at < total; at += windowFrames) {
      await fill();
      await begun.shift()!.done;
      // While the mics work on the next windows, this one is mixed.
      await fill();
      finish(indexOf(at), at);
      progress(Math.min(1, at / total));
    }
  } finally {
    runner.close();
  }
  progress(1);
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
