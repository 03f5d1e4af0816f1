import { isChoice, resolveParams, type ParamTable, type ParamValue } from "../params";
import type { Planar, ProcessContext, Processor } from "../processor";
import { processorType } from "../processors";
import type { ProcessorState } from "../song/song";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import { LoudnessFollower } from "./loudnessFollower";

/** Frames over which a processor fades in and out when it is switched. */
const switchFrames = 256;
/** Share of the way a gliding parameter goes in one block of 128 frames: 63 % in about 8 ms at 48 kHz. */
const glideShare = 0.28;

/**
 * One processor in a running chain: its value glide, its switch and its bypass with matched loudness.
 * Off costs only the delay that keeps time; on and off are faded; a processor that returns something that is not a
 * number is taken out and named in `failed`.
 */
export class ChainSlot {
  readonly id: string;
  readonly type: string;
  readonly processor: Processor;
  failed = false;
  private readonly table: ParamTable;
  private readonly values: Record<string, ParamValue>;
  private readonly targets: Record<string, ParamValue>;
  private readonly gliding = new Set<string>();
  private readonly lines: DelayLine[];
  private readonly dry: Float32Array[];
  private wanted: boolean;
  private bypassed = false;
  private matched = true;
  private share: number;
  private match: { before: LoudnessFollower; after: LoudnessFollower } | null = null;
  private matchGain = 1;

  constructor(
    state: ProcessorState,
    private readonly sampleRate: number,
    channels: number,
    readonly channelsOut: number,
    private readonly maxFrames: number,
  ) {
    const type = processorType(state.type);
    this.id = state.id;
    this.type = state.type;
    this.table = type.params;
    this.processor = type.create();
    this.processor.prepare({ sampleRate, channels, maxFrames });
    this.values = { ...resolveParams(type.params, state.params) };
    this.targets = { ...this.values };
    this.processor.set(this.values);
    this.processor.reset();
    this.lines = Array.from({ length: channelsOut }, () => new DelayLine(this.processor.latency));
    this.dry = Array.from({ length: channelsOut }, () => new Float32Array(maxFrames));
    this.wanted = state.on;
    this.share = state.on ? 1 : 0;
  }

  get latency(): number {
    return this.processor.latency;
  }
  get reductionDb(): number {
    return this.share > 0 ? (this.processor.reductionDb ?? 0) : 0;
  }

  /** Wanted values; numbers glide there, choices take hold at once. */
  setParams(params: Readonly<Record<string, ParamValue>>): void {
    for (const [name, value] of Object.entries(params)) {
      if (this.targets[name] === value) continue;
      this.targets[name] = value;
      if (isChoice(this.table[name]!)) this.values[name] = value;
      this.gliding.add(name);
    }
  }

  switch(on: boolean): void {
    this.wanted = on;
  }

  /**
   * Compares with and without: while compared, both sides are measured all the time; `without` listens past the
   * processor, brought to its loudness when `matched`. Allocates; not for the audio callback.
   */
  compare(compared: boolean, without: boolean, matched: boolean): void {
    if (!compared) this.match = null;
    else
      this.match ??= {
        before: new LoudnessFollower(this.sampleRate, this.maxFrames),
        after: new LoudnessFollower(this.sampleRate, this.maxFrames),
      };
    this.bypassed = compared && without;
    this.matched = matched;
  }
  /** Gain in dB by which the side without the processor is moved to be as loud as the side with it. */
  get matchDb(): number {
    if (!this.match || !this.matched || !this.wanted) return 0;
    const { before, after } = this.match;
    return before.measured && after.measured ? Math.max(-24, Math.min(24, after.level - before.level)) : 0;
  }

  /** Forgets all audio; settings stay. */
  reset(): void {
    this.processor.reset();
    for (const line of this.lines) line.reset();
    this.share = this.wanted && !this.bypassed && !this.failed ? 1 : 0;
  }

  private glide(): void {
    if (this.gliding.size === 0) return;
    for (const name of this.gliding) {
      const spec = this.table[name]!;
      const target = this.targets[name]!;
      const value = this.values[name]!;
      if (isChoice(spec) || typeof target !== "number" || typeof value !== "number") {
        this.gliding.delete(name);
        continue;
      }
      const log = spec.scale === "log" && value > 0 && target > 0;
      const next = log ? value * Math.pow(target / value, glideShare) : value + glideShare * (target - value);
      const close =
        Math.abs(target - next) < 1e-4 * (spec.max - spec.min) || (log && Math.abs(target / next - 1) < 1e-3);
      this.values[name] = close ? target : next;
      if (close) this.gliding.delete(name);
    }
    this.processor.set(this.values);
  }

  /** Runs on the audio thread. In place: buffers carry `channelsOut` channels, of which the input may use fewer. */
  process(buffers: readonly Float32Array[], input: Planar, frames: number, context: ProcessContext): void {
    this.glide();
    const goal = this.wanted && !this.bypassed && !this.failed ? 1 : 0;
    const { dry, match } = this;
    const running = !this.failed && (goal === 1 || this.share > 0 || (match !== null && this.wanted));
    if (this.processor.latency > 0 || !running || goal === 0 || this.share < 1 || match)
      for (let ch = 0; ch < buffers.length; ch++)
        this.lines[ch]!.process(input[Math.min(ch, input.length - 1)]!, dry[ch]!, frames);
    if (!running) {
      for (let ch = 0; ch < buffers.length; ch++)
        for (let i = 0; i < frames; i++) buffers[ch]![i] = dry[ch]![i]!;
      return;
    }
    if (this.share === 0 && goal === 1 && !match) this.processor.reset();
    this.processor.process(input, buffers, frames, context);
    if (!Number.isFinite(buffers[0]![frames - 1]!)) {
      this.failed = true;
      this.share = 0;
      this.processor.reset();
      for (let ch = 0; ch < buffers.length; ch++)
        for (let i = 0; i < frames; i++) buffers[ch]![i] = dry[ch]![i]!;
      return;
    }
    if (match) {
      match.before.add(dry, frames);
      match.after.add(buffers, frames);
    }
    if (goal === 0 || this.share < 1) this.mixSides(buffers, frames, goal);
  }

  /** Fades towards the side that is wanted; the side without carries the matching gain, which glides. */
  private mixSides(buffers: readonly Float32Array[], frames: number, goal: number): void {
    const step = (goal > this.share ? 1 : goal < this.share ? -1 : 0) / switchFrames;
    const gainTo = this.bypassed && this.matched ? dbToGain(this.matchDb) : 1;
    const gainStep = (0.1 * (gainTo - this.matchGain)) / frames;
    let gain = this.share === 1 ? gainTo : this.matchGain;
    let share = this.share;
    for (let i = 0; i < frames; i++) {
      share = Math.min(1, Math.max(0, share + step));
      gain += gainStep;
      for (let ch = 0; ch < buffers.length; ch++)
        buffers[ch]![i] = share * buffers[ch]![i]! + (1 - share) * gain * this.dry[ch]![i]!;
    }
    this.share = share;
    this.matchGain = gain;
  }
}

/** The processors of one mic or bus in a row. */
export class ChainRunner {
  readonly slots: ChainSlot[] = [];
  readonly latency: number;
  readonly channelsOut: number;
  private readonly channelsIn: number;
  /** Output of the last `process`. */
  readonly buffers: Float32Array[];
  /** What the chain gives before its pan, for stems. */
  readonly beforePan: Float32Array[];
  private readonly contexts: ProcessContext[] = [];
  private readonly keys: { lines: DelayLine[]; buffers: Float32Array[] }[] = [];

  constructor(chain: readonly ProcessorState[], sampleRate: number, channels: number, maxFrames: number) {
    let width = channels;
    let latency = 0;
    for (const state of chain) {
      const next = state.type === "pan" || state.type === "reverb" ? 2 : width;
      const slot = new ChainSlot(state, sampleRate, width, next, maxFrames);
      this.slots.push(slot);
      latency += slot.latency;
      width = next;
      this.contexts.push({ position: 0, key: null, hits: new Float64Array(0) });
    }
    this.channelsIn = channels;
    this.latency = latency;
    this.channelsOut = width;
    this.buffers = Array.from({ length: width }, () => new Float32Array(maxFrames));
    this.beforePan = Array.from({ length: channels }, () => new Float32Array(maxFrames));
  }

  /** The key reaches every processor as late as the signal does; its lines are made when a key first comes. */
  private delayKey(s: number, key: Planar | null, frames: number): void {
    const context = this.contexts[s]!;
    context.key = null;
    if (!key) return;
    let held = this.keys[s];
    if (!held) {
      const late = this.slots.slice(0, s).reduce((sum, slot) => sum + slot.latency, 0);
      held = this.keys[s] = {
        lines: key.map(() => new DelayLine(late)),
        buffers: key.map(() => new Float32Array(this.buffers[0]!.length)),
      };
    }
    for (let ch = 0; ch < key.length; ch++) held.lines[ch]!.process(key[ch]!, held.buffers[ch]!, frames);
    context.key = held.buffers;
  }

  /** Forgets all audio; settings stay. */
  reset(): void {
    for (const slot of this.slots) slot.reset();
    for (const held of this.keys) for (const line of held?.lines ?? []) line.reset();
  }

  setHits(hits: Float64Array): void {
    for (const context of this.contexts) context.hits = hits;
  }
  slot(id: string): ChainSlot | undefined {
    return this.slots.find((s) => s.id === id);
  }

  /** Runs the chain; `position` is the song frame of the first input frame. Result in `buffers`. */
  process(input: Planar, frames: number, position: number, key: Planar | null = null): void {
    const narrow = this.beforePan;
    for (let ch = 0; ch < this.channelsIn; ch++) {
      const x = input[ch]!;
      const y = narrow[ch]!;
      for (let i = 0; i < frames; i++) y[i] = x[i]!;
    }
    let wide = false;
    let at = position;
    for (let s = 0; s < this.slots.length; s++) {
      const slot = this.slots[s]!;
      const context = this.contexts[s]!;
      context.position = at;
      this.delayKey(s, key, frames);
      const source = wide ? this.buffers : narrow;
      if (slot.type === "pan" || slot.type === "reverb") wide = true;
      slot.process(wide ? this.buffers : narrow, source, frames, context);
      at -= slot.latency;
    }
    if (!wide) for (let ch = 0; ch < this.channelsIn; ch++) this.buffers[ch]!.set(narrow[ch]!);
  }
}
