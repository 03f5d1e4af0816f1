import { blockFrames } from "../core/engine/engine";
import { responses } from "../core/engine/responses";
import { Fader, stereoBlock } from "../core/engine/fader";
import { ClickTrack } from "../core/listen/click";
import { KitMeters } from "../core/listen/kitMeters";
import type { Listening } from "../core/listen/listening";
import { Monitor } from "../core/listen/monitor";
import { Sides } from "../core/listen/sides";
import { TimeStretch } from "../core/listen/timeStretch";
import { applyChecked } from "../core/song/operations";
import type { Song } from "../core/song/song";
import type { EngineMessage, FromEngine } from "./messages";
import { bandsMost, MeterBoard, placesMost, watchedMost } from "./meterBoard";
import { Ring } from "./ring";

/** Blocks between two reports: about 11 ms at 48 kHz. */
const reportEvery = 4;
/** Reports between two looks for processors that failed. */
const failuresEvery = 24;
/** How far a peak falls from one report to the next: 20 dB in 0.6 s. */
const peakFall = 0.96;
/** The same along a chain, where peaks are compared: 20 dB in 6 s. */
const levelFall = 0.996;
/** Blocks the engine may run ahead in one callback while it fills its delay lines in silence. */
const prerollBlocks = 8;
/** Frames over which sound comes up after a start or jump, and goes down at a stop. */
const fadeFrames = 192;

interface Capture {
  readonly channels: [Float32Array, Float32Array];
  /** Song frame of its first frame. */
  position: number;
  filled: number;
}

/** Everything that belongs to one opened song. */
class Opened {
  readonly sides: Sides;
  readonly ring: Ring;
  readonly board: MeterBoard;
  readonly monitor: Monitor;
  readonly meters: KitMeters;
  readonly click: ClickTrack;
  readonly inputs: Float32Array[][];
  readonly others: Float32Array[][];

  constructor(
    public song: Song,
    message: Extract<EngineMessage, { type: "open" }>,
  ) {
    const { sampleRate } = song;
    this.sides = new Sides(song);
    this.ring = new Ring(message.ring);
    this.board = new MeterBoard(message.board);
    this.monitor = new Monitor(sampleRate, blockFrames);
    this.meters = new KitMeters(sampleRate, blockFrames);
    this.click = new ClickTrack(sampleRate);
    const block = () =>
      song.mics.map((m) => Array.from({ length: m.channels }, () => new Float32Array(blockFrames)));
    this.inputs = block();
    this.others = block();
  }
}

/**
 * The engine as the worklet runs it: takes blocks from the ring, drops what comes out before the latency is filled,
 * fades at start and stop, and reports. Apart from those fades the samples are those of an offline render.
 */
export class LiveEngine {
  private opened: Opened | null = null;
  private readonly out = stereoBlock(blockFrames);
  private readonly context = new Fader(1);
  private readonly stretch = new TimeStretch();
  private generation = 0;
  /** Generation that the playhead has jumped to, and where; taken up when the old one has faded out. */
  private next = { generation: 0, position: 0 };
  /** Song frame of the next block that goes in, as far as is known. */
  private place = 0;
  /** Song frame from which the latency is filled. */
  private filledFrom = 0;
  private wanted = false;
  private half = false;
  private fade = 0;
  private toFill = 0;
  private watched: readonly string[] = [];
  private watchedBands: string | null = null;
  private watchedChain: string | null = null;
  private readonly levels = new Float64Array(2 * placesMost + 16);
  private readonly bands = new Float64Array(bandsMost);
  private starved = 0;
  private blocks = 0;
  private failures = 0;
  private capture: Capture | null = null;
  private count: { left: number; passed: number; readonly click: ClickTrack } | null = null;

  constructor(private readonly tell: (message: FromEngine) => void) {}

  receive(message: EngineMessage): void {
    const { opened } = this;
    switch (message.type) {
      case "open":
        this.opened = new Opened(message.song, message);
        this.listen(message.listening);
        this.opened.sides.watchChain(this.watchedChain);
        this.refill();
        break;
      case "operation":
        if (!opened) break;
        opened.song = applyChecked(opened.song, message.operation).song;
        opened.sides.update(opened.song);
        break;
      case "song":
        if (!opened) break;
        opened.song = message.song;
        opened.sides.update(message.song);
        break;
      case "listen":
        this.listen(message.listening);
        break;
      case "play":
        this.play(message.on, message.countIn ?? null);
        break;
      case "generation":
        this.next = message;
        break;
      case "click":
        opened?.click.set(Float64Array.from(message.beats), message.accents);
        break;
      case "response":
        responses.put(message.mic, message.response);
        break;
      case "half":
        this.half = message.on;
        this.stretch.reset();
        break;
      case "watch":
        this.watched = message.ids.slice(0, watchedMost);
        break;
      case "watchChain":
        this.watchedChain = message.id;
        opened?.sides.watchChain(message.id);
        break;
      case "watchBands":
        this.watchedBands = message.id;
        break;
      case "capture":
        this.capture = {
          channels: [new Float32Array(message.frames), new Float32Array(message.frames)],
          position: 0,
          filled: 0,
        };
    }
  }

  /** The playhead has jumped, and what was before still fades out. */
  private get jumps(): boolean {
    return this.next.generation !== this.generation;
  }

  private listen(listening: Listening): void {
    this.opened?.sides.listen(listening);
    this.opened?.monitor.set(listening.monitor);
    this.context.set(listening.monitor.context ? 1 : 0);
  }

  private play(on: boolean, countIn: { beats: number; framesPerBeat: number } | null): void {
    this.wanted = on;
    this.count = null;
    const { opened } = this;
    if (!on || !opened) return;
    opened.meters.reset();
    opened.board.put("truePeakMost", 0);
    if (!countIn) return;
    const click = new ClickTrack(opened.song.sampleRate);
    const beats = Float64Array.from({ length: countIn.beats }, (_, b) => b * countIn.framesPerBeat);
    click.set(beats, [true]);
    this.count = { left: countIn.beats * countIn.framesPerBeat, passed: 0, click };
  }

  private refill(): void {
    const { opened } = this;
    if (!opened) return;
    if (opened.ring.ready(this.generation)) this.place = opened.ring.frontPosition();
    this.filledFrom = this.place;
    opened.sides.reset(this.place);
    this.stretch.reset();
    this.toFill = Math.ceil(opened.sides.latency / blockFrames);
    // What was captured before and what comes now do not belong together.
    if (this.capture) this.capture.filled = 0;
  }

  /** Takes the front block of the ring through the engine into `this.out`. */
  private runBlock(opened: Opened): void {
    const { ring, sides, inputs, others } = opened;
    copyBlock(ring.front(), inputs);
    copyBlock(ring.frontOther(), others);
    const position = ring.frontPosition();
    ring.pop();
    this.place = position + blockFrames;
    sides.process(inputs, others, position);
    for (let ch = 0; ch < 2; ch++) this.out[ch]!.set(sides.output[ch]!);
    opened.meters.add(this.out);
    this.context.add(sides.context, this.out, blockFrames);
    opened.monitor.process(this.out, blockFrames);
  }

  /** Song frame of the first frame of `this.out`; while the latency is filled, of what will be heard first. */
  private playhead({ sides }: Opened): number {
    return this.toFill > 0 ? this.filledFrom : sides.playhead;
  }

  /** One callback of 128 frames. Runs on the audio thread. */
  process(output: readonly Float32Array[]): void {
    const { opened } = this;
    for (const y of output) y.fill(0);
    if (!opened) return;
    const { ring } = opened;
    if (this.jumps && (this.fade === 0 || !ring.ready(this.generation))) {
      this.generation = this.next.generation;
      this.place = this.next.position;
      this.fade = 0;
      this.refill();
    }
    if (this.count && this.wanted) this.countIn(output);
    else if (this.wanted || this.fade > 0) this.advance(opened, output);
    else if (opened.sides.idle()) this.refill();
    if (++this.blocks % reportEvery === 0) this.report(opened);
  }

  private countIn(output: readonly Float32Array[]): void {
    const count = this.count!;
    count.click.add(output, blockFrames, count.passed);
    count.passed += blockFrames;
    count.left -= blockFrames;
    if (count.left <= 0) this.count = null;
  }

  private advance(opened: Opened, output: readonly Float32Array[]): void {
    const { ring } = opened;
    const ready = ring.ready(this.generation);
    for (let n = 0; n < prerollBlocks && this.toFill > 0 && ring.ready(this.generation); n++) {
      this.runBlock(opened);
      this.toFill--;
    }
    if (this.toFill === 0 && this.produce(opened)) this.emit(opened, output);
    else if (this.toFill === 0 || !ready) {
      // Waiting for the first sound after a jump is no drop-out; running dry in the middle is.
      if (this.fade > 0) this.starved++;
      this.fade = 0;
    }
  }

  /** Fills `this.out` with the next block that is heard; false when there is no audio for it. */
  private produce(opened: Opened): boolean {
    const { ring } = opened;
    if (!this.half) {
      if (!ring.ready(this.generation)) return false;
      this.runBlock(opened);
      return true;
    }
    for (let n = 0; this.stretch.ready < blockFrames; n++) {
      // The first grain needs a run of blocks; they are taken a few at a time.
      if (n === prerollBlocks || !ring.ready(this.generation)) return n === prerollBlocks && this.silence();
      this.runBlock(opened);
      this.stretch.push(this.out, blockFrames);
    }
    this.stretch.pull(this.out, blockFrames);
    return true;
  }
  private silence(): boolean {
    for (const y of this.out) y.fill(0);
    return true;
  }

  private emit(opened: Opened, output: readonly Float32Array[]): void {
    if (this.capture && !this.jumps) this.captureBlock(this.capture, opened);
    if (!this.half) opened.click.add(this.out, blockFrames, this.playhead(opened));
    const step = (this.wanted && !this.jumps ? 1 : -1) / fadeFrames;
    let { fade } = this;
    for (let i = 0; i < blockFrames; i++) {
      fade = Math.min(1, Math.max(0, fade + step));
      for (let ch = 0; ch < output.length; ch++) output[ch]![i] = this.out[ch]![i]! * fade;
    }
    this.fade = fade;
  }

  private captureBlock(capture: Capture, opened: Opened): void {
    if (capture.filled === 0) capture.position = this.playhead(opened);
    const room = Math.min(blockFrames, capture.channels[0].length - capture.filled);
    for (let ch = 0; ch < 2; ch++) capture.channels[ch]!.set(this.out[ch]!.subarray(0, room), capture.filled);
    capture.filled += room;
    if (capture.filled < capture.channels[0].length) return;
    this.tell({ type: "captured", position: capture.position, channels: capture.channels });
    this.capture = null;
  }

  private report(opened: Opened): void {
    const { board, sides, meters, inputs } = opened;
    const peak = meters.takePeak();
    board.put("position", this.playhead(opened));
    board.put("generation", this.generation);
    board.put("playing", this.wanted ? 1 : 0);
    board.put("momentary", meters.momentary);
    board.put("shortTerm", meters.shortTerm);
    board.put("truePeak", Math.max(peak, peakFall * board.get("truePeak")));
    board.put("truePeakMost", Math.max(peak, board.get("truePeakMost")));
    board.put("correlation", meters.correlation);
    board.put("matchDb", sides.matchDb);
    board.put("measured", sides.measured ? 1 : 0);
    board.put("starved", this.starved);
    for (let m = 0; m < inputs.length; m++) board.putPeak(m, sides.engine.takePeak(m), peakFall);
    const { buses } = opened.song;
    for (let b = 0; b < buses.length; b++)
      board.putBusPeak(b, sides.engine.mixer.takePeak(buses[b]!.id), peakFall);
    for (let i = 0; i < this.watched.length; i++)
      board.putReduction(i, sides.engine.reduction(this.watched[i]!));
    if (this.watchedBands !== null) {
      sides.engine.bandGains(this.watchedBands, this.bands);
      board.putBands(this.bands);
    }
    const places = sides.engine.takeLevels(this.levels);
    if (places > 0 && this.wanted) board.putLevels(this.levels, places, levelFall);
    if ((this.blocks / reportEvery) % failuresEvery !== 0) return;
    const { failed } = sides.engine;
    if (failed.length !== this.failures) this.tell({ type: "failed", ids: failed });
    this.failures = failed.length;
  }
}

/** Channels of a ring's block into the inputs of the mics. */
function copyBlock(block: readonly Float32Array[], mics: readonly Float32Array[][]): void {
  let at = 0;
  for (let m = 0; m < mics.length; m++) {
    const mic = mics[m]!;
    for (let ch = 0; ch < mic.length; ch++) mic[ch]!.set(block[at++]!);
  }
}
