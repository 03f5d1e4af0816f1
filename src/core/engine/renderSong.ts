import { laneFrames, LaneMemory } from "../lanes/laneMemory";
import { finished } from "./engine";
import { chainLatency, lateMics } from "./micBank";
import { PositionLine } from "./positionLine";
import { Mixer } from "./mixer";
import { localRunner, type BankRunner } from "./bankRunner";
import { RenderWindow, windowBytes, windowFrames } from "./renderWindow";
import { readingsOf, readMic, type Reading } from "./oneShots/readings";
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

/** A song on its way through the windows: read, through the mics on whatever threads there are, mixed here. */
class Rendering {
  private readonly windows: readonly RenderWindow[];
  private readonly memories: readonly ArrayBufferLike[];
  private readonly mixer: Mixer;
  private readonly positions: PositionLine;
  private readonly readers: readonly (readonly ReadSource[])[];
  private readonly readings: readonly Reading[];
  private readonly waiting: ReadonlySet<string>;
  /** Frames until what came in last has come out. */
  readonly total: number;

  constructor(
    private readonly song: Song,
    reader: SongReader,
    private readonly targets: RenderTargets,
    private readonly sink: RenderSink,
    private readonly runner: BankRunner,
    private readonly prefetch: (from: number, count: number) => Promise<void>,
  ) {
    this.memories = Array.from({ length: windowsAtOnce }, () => runner.allocate(windowBytes(song)));
    this.windows = this.memories.map((m) => new RenderWindow(song, m));
    this.mixer = finished(Mixer.build(song, LaneMemory.for(song.buses.length + lateMics(song).size)));
    this.mixer.reset(0);
    this.positions = new PositionLine(this.mixer.latency);
    this.readers = song.mics.map((m, i) =>
      Array.from({ length: m.channels }, (_, ch) => startingAt(reader(i, ch), m.layer ? 0 : m.start)),
    );
    this.readings = readingsOf(song);
    this.waiting = new Set(this.mixer.lateMics.map((l) => l.mic.id));
    this.total = song.frames + this.mixer.latency;
  }

  open(): void {
    this.runner.open(this.windows, this.memories);
  }

  /** Reads the window at a frame and sets the mics to work on it; `done` when they are through. */
  async begin(at: number): Promise<{ done: Promise<void> }> {
    await this.prefetch(at, windowFrames);
    const index = indexOf(at);
    const { inputs } = this.windows[index]!;
    const count = Math.max(0, Math.min(windowFrames, this.song.frames - at));
    this.readers.forEach((channels, m) =>
      channels.forEach((read, ch) => {
        const x = inputs[m]![ch]!;
        readMic(this.readings[m]!, read, at, count, x);
        x.fill(0, count);
      }),
    );
    const done = this.runner.run(index, at);
    done.catch(() => {}); // awaited when its window's turn has come
    return { done };
  }

  /** Mixes the window at a frame, whose mics are through, and writes what is wanted. */
  finish(at: number): void {
    const { targets, waiting } = this;
    const { outputs, stems, inputs } = this.windows[indexOf(at)]!;
    if (targets.stems) this.writeStems(stems, at);
    if (!targets.kit && !targets.buses && waiting.size === 0) return;
    const ready = outputs.map((taps, m) => (waiting.has(this.song.mics[m]!.id) ? [] : taps));
    for (let b = 0; b < windowFrames && at + b < this.total; b += laneFrames) {
      const cut = (x: Float32Array) => x.subarray(b, b + laneFrames);
      this.positions.put(at + b);
      this.mixer.process(
        ready.map((taps) => taps.map((channels) => channels.map(cut))),
        inputs.map((channels) => channels.map(cut)),
        this.positions,
      );
      this.writeMixed(at + b);
    }
  }

  private writeStems(stems: readonly (readonly Float32Array[])[], at: number): void {
    this.song.mics.forEach((m, i) => {
      if (this.waiting.has(m.id)) return;
      const latency = chainLatency(m.chain, this.song.sampleRate);
      this.write({ name: `stem:${m.id}`, latency }, stems[i]!, at, windowFrames);
    });
  }
  /** What the mixer has just given. */
  private writeMixed(at: number): void {
    const { mixer, targets } = this;
    if (targets.kit) this.write({ name: "kit", latency: mixer.latency }, mixer.output, at, laneFrames);
    if (targets.stems)
      for (const { mic, node } of mixer.lateMics)
        this.write({ name: `stem:${mic.id}`, latency: node.latency }, node.channels, at, laneFrames);
    if (!targets.buses) return;
    for (const { id } of this.song.buses) {
      const { latency, buffers } = mixer.busOutput(id);
      this.write({ name: `bus:${id}`, latency }, buffers, at, laneFrames);
    }
  }
  /** Hands on what lies within the song, its latency taken off. */
  private write(outlet: Outlet, channels: readonly Float32Array[], at: number, count: number): void {
    const from = Math.max(0, outlet.latency - at);
    const to = Math.min(count, this.song.frames + outlet.latency - at);
    if (to > from)
      this.sink(outlet.name, from === 0 ? channels : channels.map((b) => b.subarray(from)), to - from);
  }
}
const indexOf = (at: number): number => (at / windowFrames) % windowsAtOnce;

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
  const rendering = new Rendering(song, reader, targets, sink, runner, prefetch);
  const { total } = rendering;
  try {
    rendering.open();
    const begun: { done: Promise<void> }[] = [];
    let next = 0;
    const fill = async () => {
      for (; begun.length < windowsAtOnce - 1 && next < total; next += windowFrames)
        begun.push(await rendering.begin(next));
    };
    for (let at = 0; at < total; at += windowFrames) {
      await fill();
      await begun.shift()!.done;
      // While the mics work on the next windows, this one is mixed.
      await fill();
      rendering.finish(at);
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
