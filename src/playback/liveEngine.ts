import { blockFrames, Engine, plainListening, type Listening } from "../core/engine/engine";
import { applyOperation } from "../core/song/operations";
import type { Song } from "../core/song/song";
import type { EngineMessage, EngineState, FromEngine, ProcessorMeter } from "./messages";
import { Ring } from "./ring";

/** Blocks between two reports: about 21 ms at 48 kHz. */
const reportEvery = 8;
/** Blocks the engine may run ahead in one callback while it fills its delay lines in silence. */
const prerollBlocks = 6;
/** Frames over which sound comes up after a start or jump, and goes down at a stop. */
const fadeFrames = 192;

interface Capture {
  readonly channels: [Float32Array, Float32Array];
  position: number;
  filled: number;
}

/**
 * The engine as the worklet runs it: takes blocks from the ring, drops what comes out before the latency is filled,
 * fades at start and stop, and reports. Apart from those fades the samples are those of an offline render.
 */
export class LiveEngine {
  private song: Song | null = null;
  private engine: Engine | null = null;
  private ring: Ring | null = null;
  private inputs: Float32Array[][] = [];
  private readonly out: [Float32Array, Float32Array] = [
    new Float32Array(blockFrames),
    new Float32Array(blockFrames),
  ];
  private listening: Listening = plainListening;
  private generation = 0;
  /** Generation that the playhead has jumped to; taken up when the old one has faded out. */
  private next = 0;
  private wanted = false;
  private fade = 0;
  private toFill = 0;
  private history = new Int32Array(1);
  private historyAt = 0;
  private watched: readonly string[] = [];
  private starved = 0;
  private blocks = 0;
  private kitPeak = 0;
  private capture: Capture | null = null;

  constructor(private readonly tell: (message: FromEngine) => void) {}

  receive(message: EngineMessage): void {
    switch (message.type) {
      case "open":
        this.listening = message.listening;
        this.open(message.song, new Ring(message.ring));
        break;
      case "operation":
        this.song = applyOperation(this.song!, message.operation).song;
        this.engine!.update(this.song);
        break;
      case "song":
        this.song = message.song;
        this.engine!.update(this.song);
        break;
      case "listen":
        this.listening = message.listening;
        this.engine?.listen(this.listening);
        break;
      case "play":
        this.wanted = message.on;
        break;
      case "generation":
        this.next = message.generation;
        break;
      case "watch":
        this.watched = message.ids;
        break;
      case "capture":
        this.capture = {
          channels: [new Float32Array(message.frames), new Float32Array(message.frames)],
          position: -1,
          filled: 0,
        };
    }
  }

  private open(song: Song, ring: Ring): void {
    this.song = song;
    this.ring = ring;
    this.engine = new Engine(song);
    this.engine.listen(this.listening);
    this.inputs = song.mics.map((m) =>
      Array.from({ length: m.channels }, () => new Float32Array(blockFrames)),
    );
    this.history = new Int32Array(Math.ceil(this.engine.latency / blockFrames) + 1);
    this.refill();
  }

  private refill(): void {
    this.engine?.reset();
    this.toFill = this.history.length - 1;
    this.historyAt = 0;
  }

  /** Takes the front block of the ring through the engine into `this.out`. */
  private runBlock(engine: Engine, ring: Ring): void {
    const block = ring.front();
    let at = 0;
    for (const mic of this.inputs)
      for (let ch = 0; ch < mic.length; ch++) {
        const x = block[at++]!;
        const y = mic[ch]!;
        for (let i = 0; i < blockFrames; i++) y[i] = x[i]!;
      }
    const position = ring.frontPosition();
    ring.pop();
    engine.process(this.inputs, this.out, position);
    this.history[this.historyAt % this.history.length] = position;
    this.historyAt++;
  }

  /** Song frame of the first frame of `this.out`, to within the latency's fraction of a block. */
  private get heard(): number {
    const { history } = this;
    if (this.historyAt < history.length)
      return this.ring?.ready(this.generation) ? this.ring.frontPosition() : 0;
    const first = history[this.historyAt % history.length]!;
    return first + history.length * blockFrames - blockFrames - this.engine!.latency;
  }

  /** One callback of 128 frames. Runs on the audio thread. */
  process(output: readonly Float32Array[]): void {
    const { engine, ring } = this;
    for (const y of output) y.fill(0);
    if (!engine || !ring) return;
    if (this.next !== this.generation && (this.fade === 0 || !ring.ready(this.generation))) {
      this.generation = this.next;
      this.fade = 0;
      this.refill();
    }
    const ready = ring.ready(this.generation);
    if (this.wanted || this.fade > 0) {
      for (let n = 0; n < prerollBlocks && this.toFill > 0 && ring.ready(this.generation); n++) {
        this.runBlock(engine, ring);
        this.toFill--;
      }
      if (this.toFill === 0 && ring.ready(this.generation)) {
        this.runBlock(engine, ring);
        this.emit(output);
      } else if (this.toFill === 0 || !ready) {
        this.starved++;
        this.fade = 0;
      }
    }
    if (++this.blocks % reportEvery === 0) this.report();
  }

  private emit(output: readonly Float32Array[]): void {
    const step = (this.wanted && this.next === this.generation ? 1 : -1) / fadeFrames;
    let { fade } = this;
    for (let i = 0; i < blockFrames; i++) {
      fade = Math.min(1, Math.max(0, fade + step));
      for (let ch = 0; ch < output.length; ch++) {
        const v = this.out[ch]![i]! * fade;
        output[ch]![i] = v;
        const a = Math.abs(v);
        if (a > this.kitPeak) this.kitPeak = a;
      }
    }
    this.fade = fade;
    if (this.capture) this.captureBlock(this.capture);
  }

  private captureBlock(capture: Capture): void {
    if (capture.position < 0) capture.position = this.heard;
    const room = Math.min(blockFrames, capture.channels[0].length - capture.filled);
    for (let ch = 0; ch < 2; ch++) capture.channels[ch]!.set(this.out[ch]!.subarray(0, room), capture.filled);
    capture.filled += room;
    if (capture.filled < capture.channels[0].length) return;
    this.tell({ type: "captured", position: capture.position, channels: capture.channels });
    this.capture = null;
  }

  private report(): void {
    const engine = this.engine!;
    const meter = (id: string): ProcessorMeter => ({
      id,
      reductionDb: engine.reduction(id),
      matchDb: engine.matchOf(id),
    });
    const state: EngineState = {
      type: "state",
      position: this.heard,
      generation: this.generation,
      playing: this.wanted,
      peaks: this.inputs.map((_, i) => engine.takePeak(i)),
      momentary: engine.momentary,
      kitPeak: this.kitPeak,
      matchDb: engine.matchDb,
      processors: this.watched.map(meter),
      starved: this.starved,
      failed: engine.failed,
    };
    this.kitPeak = 0;
    this.tell(state);
  }
}
