import { plainListening, type Listening } from "../core/engine/engine";
import type { Operation } from "../core/song/operations";
import type { Edit, Song } from "../core/song/song";
import type { EngineMessage, EngineState, FromEngine, FromStream, Loop, StreamMessage } from "./messages";
import { allocateRing } from "./ring";

export interface PlayerEvents {
  state(state: EngineState): void;
  /** What stands in the way of playing, in words; null when nothing does any more. */
  trouble(message: string | null): void;
}

/** Song, transport and listening as the player needs them; made anew for every song or set of mics. */
export class Player {
  private context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private stream: Worker | null = null;
  private opening: Promise<void> | null = null;
  private generation = 0;
  private position = 0;
  private loop: Loop | null = null;
  private listening: Listening = plainListening;
  private watched: readonly string[] = [];
  private captured: ((c: { position: number; channels: readonly Float32Array[] }) => void) | null = null;
  /** True: plays what was recorded, without the timing edits. */
  private asPlayed = false;
  playing = false;

  constructor(
    private song: Song,
    private readonly events: PlayerEvents,
  ) {}

  /** Sets the audio graph up; called by the first gesture, as browsers demand. */
  private open(): Promise<void> {
    return (this.opening ??= this.setUp().catch((error: unknown) => {
      this.opening = null;
      const why = error instanceof Error ? error.message : String(error);
      this.events.trouble(`Playback could not be started: ${why}. The song is safe; try again.`);
      throw error;
    }));
  }

  private async setUp(): Promise<void> {
    if (!globalThis.crossOriginIsolated)
      throw new Error("the page is not isolated, so memory cannot be shared");
    const ring = allocateRing(this.song.mics.reduce((n, m) => n + m.channels, 0));
    this.stream = new Worker("/jubo/streamWorker.js", { type: "module" });
    this.stream.onmessage = ({ data }: MessageEvent<FromStream>) =>
      this.events.trouble(
        data.type === "flowing" ? null : `Waiting for audio: ${data.message}. It goes on by itself.`,
      );
    const mics = this.song.mics.map((m) => ({ audio: m.audio!, channels: m.channels }));
    this.toStream({ type: "open", ring, mics, frames: this.song.frames });
    this.startStream();
    const context = new AudioContext({ sampleRate: this.song.sampleRate, latencyHint: "interactive" });
    this.context = context;
    await context.audioWorklet.addModule("/jubo/worklet.js");
    const node = new AudioWorkletNode(context, "jubo-engine", { numberOfInputs: 0, outputChannelCount: [2] });
    this.node = node;
    node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => this.receive(data);
    node.onprocessorerror = () =>
      this.events.trouble("The audio engine stopped. The song is safe; reload the page to play on.");
    this.toEngine({ type: "open", song: this.song, ring, listening: this.listening });
    this.toEngine({ type: "generation", generation: this.generation });
    this.toEngine({ type: "watch", ids: this.watched });
    node.connect(context.destination);
  }

  private receive(message: FromEngine): void {
    if (message.type === "captured") {
      this.captured?.(message);
      return;
    }
    if (message.generation !== this.generation) return; // from before a jump
    if (this.playing) this.position = message.position;
    this.events.state(message);
    if (this.playing && !this.loop && message.position >= this.song.frames) this.stop();
  }

  private toEngine(message: EngineMessage): void {
    this.node?.port.postMessage(message);
  }
  private toStream(message: StreamMessage): void {
    this.stream?.postMessage(message);
  }
  private startStream(): void {
    const edits: readonly Edit[] = this.asPlayed ? [] : this.song.edits;
    const { position, generation, loop } = this;
    this.toStream({ type: "seek", position, generation, loop, edits });
  }

  async play(): Promise<void> {
    this.playing = true;
    if (!this.loop && this.position >= this.song.frames - 1) this.seek(0);
    await this.open();
    await this.context!.resume();
    if (this.playing) this.toEngine({ type: "play", on: true });
  }
  stop(): void {
    this.playing = false;
    this.toEngine({ type: "play", on: false });
  }
  /** Moves the playhead to a frame of the song. */
  seek(frame: number): void {
    this.position = Math.max(0, Math.min(this.song.frames - 1, Math.round(frame)));
    this.generation++;
    this.startStream();
    this.toEngine({ type: "generation", generation: this.generation });
  }
  setLoop(loop: Loop | null): void {
    this.loop = loop;
    const inside = loop && this.position >= loop.from && this.position < loop.to;
    this.seek(loop && !inside ? loop.from : this.position);
  }
  /** Listens to the playing as it was recorded, or as it was tightened. */
  setAsPlayed(on: boolean): void {
    if (this.asPlayed === on) return;
    this.asPlayed = on;
    this.seek(this.position);
  }

  /** Takes a change up while playing. The song must have the same mics, buses and chains. */
  change(song: Song, operation: Operation | null): void {
    const moved = song.edits !== this.song.edits;
    this.song = song;
    this.toEngine(operation ? { type: "operation", operation } : { type: "song", song });
    if (moved) this.seek(this.position);
  }
  listen(listening: Listening): void {
    this.listening = listening;
    this.toEngine({ type: "listen", listening });
  }
  watch(ids: readonly string[]): void {
    this.watched = ids;
    this.toEngine({ type: "watch", ids });
  }

  /** The next frames that are heard, with the song frame of the first. */
  capture(frames: number): Promise<{ position: number; channels: readonly Float32Array[] }> {
    return new Promise((resolve) => {
      this.captured = resolve;
      this.toEngine({ type: "capture", frames });
    });
  }

  close(): void {
    this.stream?.terminate();
    this.node?.disconnect();
    void this.context?.close();
  }
}
