import { blockFrames } from "../core/engine/engine";
import { plainListening, type Comparison, type Listening } from "../core/listen/listening";
import type { Operation } from "../core/song/operations";
import { readingsOf, sameReadings, type Reading } from "../core/engine/oneShots/readings";
import { sameValue } from "../core/sameValue";
import type { PartitionedResponse } from "../core/signal/partitionedResponse";
import type { Song } from "../core/song/song";
import type { CountIn, EngineMessage, FromEngine, FromStream, Stretch, StreamMessage } from "./messages";
import { allocateBoard, MeterBoard, type EngineState } from "./meterBoard";
import { allocateRing } from "./ring";

export interface PlayerEvents {
  state(state: EngineState): void;
  /** What stands in the way of playing, in words; null when nothing does any more. */
  trouble(message: string | null): void;
  /** Processors that were taken out because they returned something that is no number. */
  failed(ids: readonly string[]): void;
}

/** What was heard, and the song frame of its first frame. */
export interface Captured {
  readonly position: number;
  readonly channels: readonly Float32Array[];
}

/** How often the player looks after itself, ms: meters in a hidden page, an output that stands still. */
const watchEvery = 250;
/** From one drawing to the next frame that is asked for, ms. */
const betweenDraws = 25;
/** Looks without a move of the playhead after which the output counts as lost. */
const lostAfter = 8;
/** How long a trouble that is over is still said, ms. */
const sayFor = 3000;

/** The page's audio devices; undefined where it may not know them. */
const devices = (): MediaDevices | undefined => globalThis.navigator?.mediaDevices;

/** How the other side of a comparison is read; null: as the song. */
function otherReadings(song: Song, comparison: Comparison): readonly Reading[] | null {
  const other =
    comparison.kind === "timing"
      ? readingsOf({ ...song, edits: [] })
      : comparison.kind === "untreated"
        ? readingsOf({ ...song, edits: [] }).map((r) => ({ ...r, cuts: [] }))
        : comparison.kind === "version"
          ? readingsOf(comparison.song)
          : null;
  return other && !sameReadings(other, readingsOf(song)) ? other : null;
}

/** The browser's side of playback: audio graph, streaming worker, transport. Made anew for every set of mics. */
export class Player {
  private context: AudioContext | null = null;
  private node: AudioWorkletNode | null = null;
  private stream: Worker | null = null;
  private board: MeterBoard | null = null;
  private opening: Promise<void> | null = null;
  private generation = 0;
  private position = 0;
  private stretches: readonly Stretch[] | null = null;
  private again = false;
  private listening: Listening = plainListening;
  private watched: readonly string[] = [];
  private watchedBands: string | null = null;
  private watchedChain: string | null = null;
  private click: { beats: readonly number[]; accents: readonly boolean[] } = { beats: [], accents: [] };
  private half = false;
  /** A capture that was asked for and has not come: whatever is set up meanwhile is asked anew. */
  private captured: { readonly frames: number; readonly resolve: (c: Captured) => void } | null = null;
  private ending: { generation: number; frame: number } | null = null;
  private readonly timer = setInterval(() => this.lookAfter(), watchEvery);
  private frame = 0;
  private drawing: ReturnType<typeof setTimeout> | undefined;
  private still = 0;
  private lastSeen = -1;
  private waiting = false;
  private interrupted = false;
  private closed = false;
  playing = false;
  /** Impulse responses that were asked for, and those that came, by the id of their mic. */
  private readonly asked = new Set<string>();
  private readonly given = new Map<string, PartitionedResponse>();

  constructor(
    private song: Song,
    private readonly events: PlayerEvents,
  ) {
    devices()?.addEventListener?.("devicechange", this.onDevices);
  }

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
    const board = allocateBoard(this.song.mics.length);
    this.board = new MeterBoard(board);
    this.stream = new Worker("/jubo/streamWorker.js", { type: "module" });
    this.stream.onmessage = ({ data }: MessageEvent<FromStream>) => this.hearStream(data);
    const mics = this.song.mics.map((m) => ({
      audio: m.audio!,
      channels: m.channels,
      start: m.start,
      whole: m.layer !== undefined,
    }));
    const { frames, sampleRate } = this.song;
    this.toStream({ type: "open", ring, mics, frames, sampleRate });
    this.startStream();
    // The context runs at the song's rate; for a device with another one the browser converts what comes out.
    const context = new AudioContext({ sampleRate: this.song.sampleRate, latencyHint: "interactive" });
    this.context = context;
    context.onstatechange = () => this.followContext(context);
    await context.audioWorklet.addModule("/jubo/worklet.js");
    const node = new AudioWorkletNode(context, "jubo-engine", { numberOfInputs: 0, outputChannelCount: [2] });
    this.node = node;
    node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => this.hearEngine(data);
    node.onprocessorerror = () =>
      this.events.trouble("The audio engine stopped. The song is safe; reload the page to play on.");
    this.toEngine({ type: "open", song: this.song, ring, board, listening: this.listening });
    this.toEngine({ type: "generation", generation: this.generation, position: this.position });
    this.toEngine({ type: "watch", ids: this.watched });
    this.toEngine({ type: "watchBands", id: this.watchedBands });
    this.toEngine({ type: "watchChain", id: this.watchedChain });
    this.toEngine({ type: "click", ...this.click });
    this.toEngine({ type: "half", on: this.half });
    for (const [mic, response] of this.given) this.toEngine({ type: "response", mic, response });
    if (this.captured) this.toEngine({ type: "capture", frames: this.captured.frames });
    node.connect(context.destination);
    this.draw();
  }

  /** Reads the meters when the page draws, thirty times a second: each frame that is asked for costs the page a paint. */
  private readonly draw = (): void => {
    if (this.closed) return;
    this.readBoard();
    this.drawing = setTimeout(() => (this.frame = requestAnimationFrame(this.draw)), betweenDraws);
  };
  private readBoard(): void {
    const state = this.board?.read(this.watched.length);
    if (!state || state.generation !== this.generation) return; // from before a jump
    if (this.playing) this.position = state.position;
    this.events.state(state);
    if (this.playing && state.position >= this.end) this.stop();
  }
  /** Frame at which it stops by itself. */
  private get end(): number {
    if (this.ending?.generation === this.generation) return this.ending.frame;
    // Behind a loop the song plays on to its end; a loop that reaches it is brought to whole blocks.
    return this.song.frames + (this.stretches ? blockFrames : 0);
  }

  private hearEngine(message: FromEngine): void {
    if (message.type === "captured") {
      this.captured?.resolve(message);
      this.captured = null;
    } else if (message.type === "failed") this.events.failed(message.ids);
    else
      this.events.trouble(
        `The audio engine could not go on: ${message.message}. The song is safe; reload the page.`,
      );
  }
  private hearStream(message: FromStream): void {
    if (message.type === "ending") this.ending = message;
    this.waiting = message.type === "waiting" || (this.waiting && message.type === "ending");
    if (message.type === "waiting")
      this.events.trouble(`Waiting for audio: ${message.message}. It goes on by itself.`);
    else if (message.type === "flowing") this.events.trouble(null);
  }

  /** The system took the output away or gave it back. */
  private followContext(context: AudioContext): void {
    if (context !== this.context || this.closed) return;
    if (context.state === "running") {
      if (this.interrupted) this.events.trouble(null);
      this.interrupted = false;
    } else if (this.playing && context.state !== "closed") {
      this.interrupted = true;
      this.events.trouble(
        "The system has suspended the audio output. Playback goes on as soon as it is back.",
      );
      void context.resume();
    }
  }
  private readonly onDevices = (): void => {
    if (this.playing) void this.context?.resume();
  };

  /** What must also happen in a hidden page: the end of the song is seen, and an output that stands still is renewed. */
  private lookAfter(): void {
    this.readBoard();
    const { context } = this;
    if (!context || !this.playing || this.waiting) {
      this.still = 0;
      return;
    }
    if (this.interrupted) void context.resume();
    this.still = context.currentTime === this.lastSeen && !this.interrupted ? this.still + 1 : 0;
    this.lastSeen = context.currentTime;
    if (this.still === lostAfter) void this.renew();
  }
  /** Sets everything up anew where the playhead stands, for instance on another device. */
  private async renew(): Promise<void> {
    this.events.trouble("The audio output was lost; playback is set up anew where it was.");
    this.takeDown();
    this.seek(this.position);
    try {
      await this.play();
      setTimeout(() => this.events.trouble(null), sayFor);
    } catch {
      this.playing = false; // open() has said why
    }
  }

  private toEngine(message: EngineMessage): void {
    this.node?.port.postMessage(message);
  }
  private toStream(message: StreamMessage): void {
    this.stream?.postMessage(message);
  }
  private startStream(): void {
    const { position, generation, stretches, again, song } = this;
    this.ending = null;
    const other = otherReadings(song, this.listening.comparison);
    this.toStream({
      type: "seek",
      position,
      generation,
      stretches,
      again,
      readings: readingsOf(song),
      otherReadings: other,
    });
  }

  async play(countIn: CountIn | null = null): Promise<void> {
    this.playing = true;
    this.still = 0;
    if (this.position >= this.song.frames - 1) this.seek(this.stretches?.[0]?.from ?? 0);
    await this.open();
    await this.context!.resume();
    if (this.playing) this.toEngine({ type: "play", on: true, countIn });
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
    this.toEngine({ type: "generation", generation: this.generation, position: this.position });
  }
  /** Loops a stretch; null plays straight on. */
  setLoop(loop: Stretch | null): void {
    this.stretches = loop && [loop];
    this.again = loop !== null;
    const inside = loop && this.position >= loop.from && this.position < loop.to;
    this.seek(loop && !inside ? loop.from : this.position);
  }
  /** Plays stretches one after another and stops. */
  setStretches(stretches: readonly Stretch[]): void {
    this.stretches = stretches;
    this.again = false;
    this.seek(stretches[0]?.from ?? this.position);
  }

  /** Takes a change up while playing. The song must have the same files at the same places. */
  change(song: Song, operation: Operation | null): void {
    const moved = !sameReadings(readingsOf(song), readingsOf(this.song));
    this.song = song;
    this.toEngine(operation ? { type: "operation", operation } : { type: "song", song });
    if (moved) this.seek(this.position);
  }
  /** True the first time it is asked whether it wants an impulse response. */
  wantsResponse(mic: string): boolean {
    if (this.asked.has(mic)) return false;
    this.asked.add(mic);
    return true;
  }
  /** A response that could not be had may be asked for again. */
  forgetResponse(mic: string): void {
    this.asked.delete(mic);
  }
  /** Gives the engine an impulse response. */
  setResponse(mic: string, response: PartitionedResponse): void {
    this.given.set(mic, response);
    this.toEngine({ type: "response", mic, response });
  }
  listen(listening: Listening): void {
    const before = otherReadings(this.song, this.listening.comparison);
    this.listening = listening;
    this.toEngine({ type: "listen", listening });
    // Another timing on the other side needs a stream that carries both.
    const after = otherReadings(this.song, listening.comparison);
    if (!sameValue(before, after)) this.seek(this.position);
  }
  watch(ids: readonly string[]): void {
    this.watched = ids;
    this.toEngine({ type: "watch", ids });
  }
  watchChain(id: string | null): void {
    this.watchedChain = id;
    this.toEngine({ type: "watchChain", id });
  }
  watchBands(id: string | null): void {
    this.watchedBands = id;
    this.toEngine({ type: "watchBands", id });
  }
  /** Clicks on frames of the song, and which of them begin a bar; none: no click. */
  setClick(beats: readonly number[], accents: readonly boolean[]): void {
    this.click = { beats, accents };
    this.toEngine({ type: "click", ...this.click });
  }
  setHalf(on: boolean): void {
    this.half = on;
    this.toEngine({ type: "half", on });
  }

  /**
   * The next frames that are heard in one go, with the song frame of the first; whole, however often the playhead jumps or
   * the output is renewed meanwhile.
   */
  capture(frames: number): Promise<Captured> {
    return new Promise((resolve) => {
      this.captured = { frames, resolve };
      this.toEngine({ type: "capture", frames });
    });
  }
  /** The audio context, for tests of what the system may do to it. */
  get audio(): AudioContext | null {
    return this.context;
  }

  private takeDown(): void {
    clearTimeout(this.drawing);
    cancelAnimationFrame(this.frame);
    this.stream?.terminate();
    this.node?.disconnect();
    const { context } = this;
    this.context = null;
    void context?.close();
    this.node = null;
    this.stream = null;
    this.board = null;
    this.opening = null;
  }
  close(): void {
    this.closed = true;
    clearInterval(this.timer);
    devices()?.removeEventListener?.("devicechange", this.onDevices);
    this.takeDown();
  }
}
