import { laneFrames, stereoPlace, type LaneMemory, type StereoPlace } from "../lanes/laneMemory";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import type { Bus, Mic, Send } from "../song/song";
import { Fader } from "./fader";
import type { Lanes } from "./lanes";
import { Level } from "./level";
import { Picture } from "./picture";

/** Below this a fader counts as closed, and sends from behind it are, too; dB. */
const closedAt = -90;

/** A send as it runs: a gain of its own on what is taken. */
export class SendLevel {
  readonly fader = new Fader(0);
  private gain = 0;
  constructor(
    readonly bus: string,
    readonly from: Send["from"],
  ) {}
  set(send: Send, level: Level, open: boolean): void {
    this.gain = open ? dbToGain(send.level) : 0;
    this.follow(level);
  }
  /** Follows the fader behind which it is taken; the match of two sides is in both. */
  follow({ gain, match }: Level): void {
    this.fader.set(this.gain * (this.from === "fader" ? gain : match));
  }
}

/** What leaves a mic or bus: a fader towards a bus, and sends. */
export class Strip {
  readonly level = new Level();
  readonly sends: readonly SendLevel[];
  constructor(owner: Mic | Bus) {
    this.sends = owner.sends.map((s) => new SendLevel(s.bus, s.from));
  }
  /** Takes levels; `isOpen` says which ways are open. */
  set(owner: Mic | Bus, isOpen: (to: string) => boolean, sampleRate: number): void {
    const open = owner.output === null ? !owner.muted : isOpen(owner.output);
    this.level.set(owner, open, sampleRate);
    owner.sends.forEach((send, i) =>
      this.sends[i]!.set(send, this.level, isOpen(send.bus) && owner.level > closedAt),
    );
  }
  moveTo(section: string | null): void {
    this.level.moveTo(section);
    for (const s of this.sends) s.follow(this.level);
  }
  /** Goes to where the fader is to be at a song frame: that of what leaves it at the end of the next block. */
  place(frame: number): void {
    if (!this.level.moves) return;
    this.level.place(frame);
    for (const s of this.sends) s.follow(this.level);
  }
  jump(): void {
    this.level.fader.jump();
    for (const s of this.sends) s.fader.jump();
  }
}

/** A signal within the mix, held back until the slowest into the same place is there. */
export class Feed {
  private readonly lines: readonly DelayLine[];
  private readonly held: StereoPlace;

  /** `place`: where the signal lies in this block. `fader`: what it passes; null: as it is. */
  constructor(
    private readonly memory: LaneMemory,
    private readonly place: () => StereoPlace,
    late: number,
    private readonly fader: Fader | null,
  ) {
    this.lines = [0, 1].map(() => new DelayLine(late));
    this.held = stereoPlace(memory);
  }
  reset(): void {
    for (const line of this.lines) line.reset();
  }
  /** The signal in time. */
  take(): StereoPlace {
    const { held, fader } = this;
    const from = this.place();
    if (fader) {
      for (const y of held.channels) y.fill(0);
      fader.addPlace(this.memory, from.pointer, held.pointer);
    }
    const source = fader ? held : from;
    for (let ch = 0; ch < 2; ch++)
      this.lines[ch]!.process(source.channels[ch]!, held.channels[ch]!, laneFrames);
    return held;
  }
  addTo(target: StereoPlace): void {
    this.memory.kernels.addStereo(this.take().pointer, target.pointer, 1, 1, laneFrames);
  }
}

/** One bus: what comes in, its chain's lanes, its picture and fader. */
export class BusNode {
  readonly input: StereoPlace;
  /** What leaves the chain, then with its picture, then behind the fader. */
  readonly output: StereoPlace;
  readonly faded: StereoPlace;
  readonly strip: Strip;
  readonly picture: Picture;
  /** With its picture, in this block. */
  shaped: StereoPlace;
  /** Holds back what comes straight from the mics until the slowest into this one is there. */
  readonly micLines: readonly DelayLine[];

  constructor(
    readonly bus: Bus,
    memory: LaneMemory,
    /** Its chain; null when nothing is in it. */
    readonly chain: Lanes | null,
    readonly owner: number,
    /** Frames by which its input is late, and its output. */
    readonly arrival: number,
    micLatency: number,
    readonly feeds: readonly Feed[],
    readonly keys: readonly Feed[],
  ) {
    this.input = stereoPlace(memory);
    this.output = chain
      ? { pointer: chain.pointer(owner), channels: chain.channels(owner) as StereoPlace["channels"] }
      : this.input;
    this.faded = stereoPlace(memory);
    this.shaped = this.output;
    this.picture = new Picture(this.output, stereoPlace(memory));
    this.strip = new Strip(bus);
    this.micLines = [0, 1].map(() => new DelayLine(arrival - micLatency));
  }
  get late(): number {
    return this.arrival + (this.chain?.latencyOf(this.owner) ?? 0);
  }
  /** Puts together what comes in. */
  collect(): void {
    for (let ch = 0; ch < 2; ch++) {
      const x = this.input.channels[ch]!;
      this.micLines[ch]!.process(x, x, laneFrames);
    }
    for (const feed of this.feeds) feed.addTo(this.input);
    const { chain } = this;
    if (!chain) return;
    chain.feed(this.owner, this.input.channels);
    for (let k = 0; k < this.keys.length; k++) {
      const { channels } = this.keys[k]!.take();
      chain.keyChannels(this.owner, k).forEach((x, ch) => x.set(channels[ch]!));
    }
  }
  /** Behind the chain: picture and fader. */
  finish(memory: LaneMemory): void {
    this.shaped = this.picture.process();
    for (const y of this.faded.channels) y.fill(0);
    this.strip.level.fader.addPlace(memory, this.shaped.pointer, this.faded.pointer);
    this.follow();
  }
  private most = 0;
  /** Largest sample behind the fader since the last call, linear. */
  takePeak(): number {
    const { most } = this;
    this.most = 0;
    return most;
  }
  private follow(): void {
    for (let ch = 0; ch < 2; ch++) {
      const y = this.faded.channels[ch]!;
      for (let i = 0; i < laneFrames; i++) {
        const v = y[i]!;
        const size = v < 0 ? -v : v;
        if (size > this.most) this.most = size;
      }
    }
  }
  reset(): void {
    for (const line of this.micLines) line.reset();
    for (const feed of [...this.feeds, ...this.keys]) feed.reset();
    this.picture.jump();
  }
}
