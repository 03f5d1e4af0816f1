import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import type { ParamValue } from "../params";
import type { Bus, Mic, Song } from "../song/song";
import { ChainRunner, type ChainSlot } from "./chainRunner";
import { hitFrames } from "./timeline";
import { LoudnessFollower } from "./loudnessFollower";

/** Frames the engine works on at a time, live and offline. */
export const blockFrames = 128;

/** What is listened to, apart from what the song says. */
export interface Listening {
  /** The recording as it came in, brought to the loudness of the mix. */
  readonly untreated: boolean;
  /** Both sides of every comparison are brought to the same loudness. */
  readonly matched: boolean;
  /** Processors that are compared, by id. */
  readonly compared: readonly string[];
  /** Listens to the side without them. */
  readonly without: boolean;
}

/** Plain listening to the mix. */
export const plainListening: Listening = { untreated: false, matched: true, compared: [], without: false };

/** Frames by which a drum's hits reach a mic late, its own delay included. */
const hitsLate = (mic: Mic): number =>
  mic.lateBy + (mic.chain.find((p) => p.type === "delay")?.params["delay"] as number);

/** A level that glides within a block. */
class Fader {
  private now: number;
  constructor(private target: number) {
    this.now = target;
  }
  set(gain: number): void {
    this.target = gain;
  }
  /** Adds x times the gliding gain to y. */
  add(x: Planar, y: Planar, frames: number): void {
    const { now, target } = this;
    if (now === 0 && target === 0) return;
    const step = (target - now) / frames;
    for (let ch = 0; ch < y.length; ch++) {
      const from = x[Math.min(ch, x.length - 1)]!;
      const into = y[ch]!;
      for (let i = 0; i < frames; i++) into[i]! += (now + step * (i + 1)) * from[i]!;
    }
    this.now = target;
  }
}

const stereo = (): [Float32Array, Float32Array] => [
  new Float32Array(blockFrames),
  new Float32Array(blockFrames),
];

interface SendNode {
  readonly bus: string;
  readonly beforeFader: boolean;
  readonly fader: Fader;
}

class MicNode {
  readonly chain: ChainRunner;
  readonly lines: DelayLine[];
  readonly fader = new Fader(0);
  readonly faded = stereo();
  readonly sends: SendNode[];
  readonly rawPan: [number, number];
  peak = 0;

  constructor(
    readonly mic: Mic,
    sampleRate: number,
    padTo: number,
    busIds: readonly string[],
  ) {
    this.chain = new ChainRunner(mic.chain, sampleRate, mic.channels, blockFrames);
    this.lines = [0, 1].map(() => new DelayLine(padTo - this.chain.latency));
    this.sends = busIds.flatMap((bus) => [
      { bus, beforeFader: false, fader: new Fader(0) },
      { bus, beforeFader: true, fader: new Fader(0) },
    ]);
    this.rawPan = [1, 1];
  }
}

class BusNode {
  readonly chain: ChainRunner;
  readonly input = stereo();
  readonly fader = new Fader(0);
  /** Holds back what comes straight from the mics until the slowest bus into this one is there. */
  readonly micLines: DelayLine[];
  readonly sources: { readonly node: BusNode; readonly lines: DelayLine[] }[] = [];
  readonly late: number;
  readonly faded = stereo();

  constructor(
    readonly bus: Bus,
    sampleRate: number,
    micLatency: number,
    feeding: readonly BusNode[],
  ) {
    this.chain = new ChainRunner(bus.chain, sampleRate, 2, blockFrames);
    const arrival = feeding.reduce((most, f) => Math.max(most, f.late), micLatency);
    this.micLines = [0, 1].map(() => new DelayLine(arrival - micLatency));
    for (const node of feeding)
      this.sources.push({ node, lines: [0, 1].map(() => new DelayLine(arrival - node.late)) });
    this.late = arrival + this.chain.latency;
  }
}

/**
 * Plays a song: mics through their chains into buses into the kit, every path compensated to the same latency.
 * One engine serves the audio worklet and offline renders; both call it with blocks of `blockFrames`.
 * Made anew when mics, buses or chains change; values move through `update`. `process` allocates nothing.
 */
export class Engine {
  private readonly mics: MicNode[];
  private readonly buses: BusNode[];
  private readonly kit: BusNode;
  private readonly slots = new Map<string, ChainSlot>();
  private readonly raw = stereo();
  private readonly rawLines: DelayLine[];
  private readonly mixLoudness: LoudnessFollower;
  private readonly rawLoudness: LoudnessFollower;
  private readonly mixFader = new Fader(1);
  private readonly rawFader = new Fader(0);
  private listening: Listening = plainListening;
  private heardSong: Song | null = null;
  /** Frames by which the output is late. */
  readonly latency: number;

  constructor(song: Song) {
    const micLatency = Math.max(
      0,
      ...song.mics.map((m) => new ChainRunner(m.chain, song.sampleRate, m.channels, blockFrames).latency),
    );
    const ordered = [...song.buses].sort((a, b) => Number(a.output === null) - Number(b.output === null));
    const kit = ordered.find((b) => b.output === null);
    if (!kit) throw new TypeError("the song has no kit bus");
    this.mics = song.mics.map(
      (m) =>
        new MicNode(
          m,
          song.sampleRate,
          micLatency,
          ordered.filter((b) => b !== kit).map((b) => b.id),
        ),
    );
    this.buses = [];
    for (const bus of ordered)
      this.buses.push(
        new BusNode(
          bus,
          song.sampleRate,
          micLatency,
          this.buses.filter((b) => b.bus.output === bus.id),
        ),
      );
    this.kit = this.buses[this.buses.length - 1]!;
    this.latency = this.kit.late;
    this.rawLines = [0, 1].map(() => new DelayLine(this.latency));
    this.mixLoudness = new LoudnessFollower(song.sampleRate, blockFrames);
    this.rawLoudness = new LoudnessFollower(song.sampleRate, blockFrames);
    for (const { chain } of [...this.mics, ...this.buses])
      for (const slot of chain.slots) this.slots.set(slot.id, slot);
    this.update(song);
    for (const { fader, sends } of this.mics)
      for (const f of [fader, ...sends.map((s) => s.fader)]) f.add([], [], blockFrames);
    for (const { fader } of this.buses) fader.add([], [], blockFrames);
  }

  /** Takes every value of the song: parameters, switches, faders, sends, mutes, solos, hits. Same structure only. */
  update(song: Song): void {
    const soloed = song.mics.some((m) => m.soloed) || song.buses.some((b) => b.soloed && b.output !== null);
    const busSoloed = song.buses.some((b) => b.soloed && b.output !== null);
    song.mics.forEach((mic, i) => {
      const node = this.mics[i]!;
      const heard = !mic.muted && (!soloed || mic.soloed || (busSoloed && !song.mics.some((m) => m.soloed)));
      const straight = heard && !(busSoloed && !mic.soloed);
      node.fader.set(straight ? dbToGain(mic.level) : 0);
      const level = dbToGain(mic.level);
      for (const send of node.sends) {
        const wanted = mic.sends.find((s) => s.bus === send.bus && s.beforeFader === send.beforeFader);
        const gain =
          wanted && heard && mic.level > -90 ? dbToGain(wanted.level) * (send.beforeFader ? 1 : level) : 0;
        send.fader.set(gain);
      }
      const pan = (mic.chain.find((p) => p.type === "pan")?.params["position"] as number) / 100;
      const trim = dbToGain(mic.chain.find((p) => p.type === "trim")?.params["gain"] as number);
      const angle = ((pan + 1) * Math.PI) / 4;
      const audible = mic.muted ? 0 : trim;
      node.rawPan[0] = audible * (mic.channels === 1 ? Math.cos(angle) : Math.min(1, 1 - pan));
      node.rawPan[1] = audible * (mic.channels === 1 ? Math.sin(angle) : Math.min(1, 1 + pan));
      const old = this.heardSong;
      if (old?.mics[i] !== mic) this.updateChain(mic.chain);
      const before = old?.mics[i];
      const sameHits = old?.hits === song.hits && old.edits === song.edits && before?.piece === mic.piece;
      if (!sameHits || hitsLate(before!) !== hitsLate(mic))
        node.chain.setHits(hitFrames(song.hits, mic.piece, song.edits, song.sampleRate, hitsLate(mic)));
    });
    this.heardSong = song;
    for (const node of this.buses) {
      const bus = song.buses.find((b) => b.id === node.bus.id)!;
      node.fader.set(
        bus.muted || (busSoloed && bus.output !== null && !bus.soloed) ? 0 : dbToGain(bus.level),
      );
      this.updateChain(bus.chain);
    }
  }

  private updateChain(chain: Mic["chain"]): void {
    for (const state of chain) {
      const slot = this.slots.get(state.id)!;
      slot.setParams(state.params as Record<string, ParamValue>);
      slot.switch(state.on);
    }
  }

  listen(listening: Listening): void {
    const compared = new Set(listening.compared);
    for (const [id, slot] of this.slots) slot.compare(compared.has(id), listening.without, listening.matched);
    this.listening = listening;
  }

  /** Forgets all audio, as after a jump of the playhead; settings and measured loudness stay. */
  reset(): void {
    for (const { chain, lines } of this.mics) {
      chain.reset();
      for (const line of lines) line.reset();
    }
    for (const { chain, micLines, sources } of this.buses) {
      chain.reset();
      for (const line of [...micLines, ...sources.flatMap((s) => s.lines)]) line.reset();
    }
    for (const line of this.rawLines) line.reset();
  }

  /** Gain in dB by which the side without a compared processor is moved. */
  matchOf(id: string): number {
    return this.slots.get(id)?.matchDb ?? 0;
  }
  /** Gain in dB by which the untreated recording is moved to be as loud as the mix. */
  get matchDb(): number {
    return this.listening.matched ? this.mixLoudness.level - this.rawLoudness.level : 0;
  }
  /** Momentary loudness of the mix, LUFS. */
  get momentary(): number {
    return this.mixLoudness.momentary;
  }
  /** Names of processors that returned something that is not a number and were taken out. */
  get failed(): string[] {
    return [...this.slots.values()].filter((s) => s.failed).map((s) => s.id);
  }
  /** Gain reduction of a processor in dB. */
  reduction(id: string): number {
    return this.slots.get(id)?.reductionDb ?? 0;
  }
  /** Peak of a mic after its chain since the last call, linear. */
  takePeak(mic: number): number {
    const node = this.mics[mic]!;
    const { peak } = node;
    node.peak = 0;
    return peak;
  }
  /** Latency of a mic's chain and the chain's result before its pan, for stems. */
  stem(mic: number): { latency: number; buffers: readonly Float32Array[] } {
    const { chain } = this.mics[mic]!;
    return { latency: chain.latency, buffers: chain.beforePan };
  }
  /** What a bus gave in the last block, after its fader, and how late it is. */
  busOutput(id: string): { latency: number; buffers: readonly Float32Array[] } {
    const node = this.buses.find((b) => b.bus.id === id)!;
    return { latency: node.late, buffers: node.faded };
  }

  /**
   * One block. Shape: inputs per mic and channel, `blockFrames` frames each; output two channels.
   * `position` is the song frame of the first input frame; the output is `latency` frames behind it.
   */
  process(inputs: readonly Planar[], output: Planar, position: number): void {
    const n = blockFrames;
    const [rawLeft, rawRight] = this.raw;
    rawLeft.fill(0);
    rawRight.fill(0);
    for (const { input } of this.buses) for (const x of input) x.fill(0);
    for (let m = 0; m < this.mics.length; m++) this.runMic(this.mics[m]!, inputs[m]!, position);
    for (const node of this.buses) this.runBus(node, position);
    for (let ch = 0; ch < 2; ch++) this.rawLines[ch]!.process(this.raw[ch]!, this.raw[ch]!, n);
    const kit = this.kit.faded;
    this.mixLoudness.add(kit, n);
    this.rawLoudness.add(this.raw, n);
    const { untreated } = this.listening;
    this.mixFader.set(untreated ? 0 : 1);
    this.rawFader.set(untreated ? Math.min(16, dbToGain(this.matchDb)) : 0);
    for (let ch = 0; ch < 2; ch++) output[ch]!.fill(0);
    this.mixFader.add(kit, output, n);
    this.rawFader.add(this.raw, output, n);
  }

  private runMic(node: MicNode, input: Planar, position: number): void {
    const n = blockFrames;
    const { chain, rawPan } = node;
    const left = input[0]!;
    const right = input[input.length - 1]!;
    for (let i = 0; i < n; i++) {
      this.raw[0][i]! += rawPan[0] * left[i]!;
      this.raw[1][i]! += rawPan[1] * right[i]!;
    }
    chain.process(input, n, position);
    const panned = chain.buffers;
    for (let ch = 0; ch < 2; ch++) {
      const x = panned[ch]!;
      node.lines[ch]!.process(x, x, n);
      for (let i = 0; i < n; i++) {
        const a = Math.abs(x[i]!);
        if (a > node.peak) node.peak = a;
      }
    }
    for (const bus of this.buses) if (bus.bus.id === node.mic.output) node.fader.add(panned, bus.input, n);
    for (const send of node.sends)
      for (const bus of this.buses) if (bus.bus.id === send.bus) send.fader.add(panned, bus.input, n);
  }

  private runBus(node: BusNode, position: number): void {
    const n = blockFrames;
    for (let ch = 0; ch < 2; ch++) node.micLines[ch]!.process(node.input[ch]!, node.input[ch]!, n);
    for (const { node: from, lines } of node.sources)
      for (let ch = 0; ch < 2; ch++) {
        const x = from.faded[ch]!;
        lines[ch]!.process(x, x, n);
        const y = node.input[ch]!;
        for (let i = 0; i < n; i++) y[i]! += x[i]!;
      }
    node.chain.process(node.input, n, position);
    for (const y of node.faded) y.fill(0);
    node.fader.add(node.chain.buffers, node.faded, n);
  }
}
