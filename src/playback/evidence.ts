import { responseOf } from "../core/engine/responses";
import { partitionResponse, type PartitionedResponse } from "../core/signal/partitionedResponse";
import { checkChains, type ChainCheck } from "../core/align/chainCheck";
import { pairEvidence, type PairEvidence } from "../core/align/pairEvidence";
import { hitSpectra, type HitSpectra } from "../core/clean/spectra";
import { findPartials, type Partial } from "../core/shape/partials";
import { foldLoss, type FoldLoss } from "../core/shape/foldLoss";
import { shiftsOf, type PlacedSound } from "../core/engine/oneShots/placeStrokes";
import { framesWithin } from "../core/hits/snippets";
import { readLayer } from "../core/engine/oneShots/readLayer";
import { memoryReader } from "../core/engine/renderSong";
import { alignLayer, type LayerAlignment } from "../core/layers/alignLayer";
import { layerBalance, type LayerBalance } from "../core/layers/layerBalance";
import { findLoopStrokes, type LoopStrokes } from "../core/loops/findLoopStrokes";
import { processChain } from "../core/engine/processChain";
import { thresholdOver, type FittedThreshold } from "../core/shape/fitThreshold";
import { strokeEffect, type StrokeEffect } from "../core/shape/hitReductions";
import { stackStrokes, type StrokeStack } from "../core/hits/stack";
import { quickBasis, quickLouder } from "../core/shape/quick/quickBasis";
import type { Hit, LayerShift, Piece, ProcessorState, QuickBasis, QuickValues } from "../core/song/song";
import { Kept } from "./kept";
import { fetchMic, fetchStretch, type Stretch } from "./micAudio";
import { stretchOf } from "../core/signal/samples";

/** A mic whose audio lies in the store. */
export interface MicAudio {
  readonly audio: string;
  /** Song frame at which the file begins. */
  readonly start: number;
  /** A layer's sounds as they are played, and how long it is; missing: a recording. */
  readonly layer?: {
    readonly sounds: readonly PlacedSound[];
    readonly channels: number;
    readonly frames: number;
  };
}

/** A stretch that the server makes of all mics: a mic as Cancel leaves it, or what comes into a bus. */
export interface MadeStretch {
  readonly path: string;
  /** What it hangs on beside its path: changed, it is made anew. */
  readonly stands: string;
}

/** What goes through a chain: a mic as recorded, whole, or a stretch that is made. */
export interface ChainInput {
  readonly source: MicAudio | MadeStretch;
  /** What of the chain lies before the place that is looked at. */
  readonly chain: readonly ProcessorState[];
  /** Onsets of all strokes of its drums, ascending frames of the recording. */
  readonly strokes: readonly number[];
  readonly sampleRate: number;
}

/** A drum's main mic and its layer, each with its chain; strokes as they were played, s. */
export interface BesideAsk {
  readonly main: MicAudio & { readonly chain: readonly ProcessorState[] };
  readonly layer: MicAudio & { readonly chain: readonly ProcessorState[] };
  readonly times: readonly number[];
  readonly sampleRate: number;
}

export interface EvidenceKinds {
  pair: {
    ask: { main: MicAudio; second: MicAudio; times: readonly number[]; sampleRate: number };
    answer: PairEvidence;
  };
  chains: {
    ask: {
      main: MicAudio & { chain: readonly ProcessorState[] };
      second: MicAudio & { chain: readonly ProcessorState[] };
      times: readonly number[];
      sampleRate: number;
    };
    answer: ChainCheck;
  };
  /** Where a layer is to be played so that its low end adds to the mic's, both behind their chains. */
  layerPhase: { ask: BesideAsk & { readonly shifts: readonly LayerShift[] }; answer: LayerAlignment };
  /** Strokes of a baked loop, s of its file. */
  loop: { ask: { mic: MicAudio; sampleRate: number }; answer: LoopStrokes };
  /** What a layer and the mic beside it give, by band. */
  layerBalance: { ask: BesideAsk & { readonly gainsDb: readonly [number, number] }; answer: LayerBalance };
  spectra: {
    ask: { input: ChainInput; pieces: readonly Piece[]; hits: readonly Hit[]; lateBy: number };
    answer: HitSpectra;
  };
  /** The tones in which a drum rings; strokes are main ones, frames of the song as they arrive. */
  partials: {
    ask: { input: ChainInput; mains: readonly number[]; fundamental: number };
    answer: Partial[];
  };
  /** All strokes of a mic side by side. */
  stack: { ask: { mic: MicAudio; times: readonly number[]; sampleRate: number }; answer: StrokeStack };
  /** Frames [from, to) of a mic. */
  wave: { ask: { mic: MicAudio; from: number; to: number }; answer: Float32Array };
  /** A mic whole, ready to be convolved with. */
  response: { ask: { mic: MicAudio; sampleRate: number }; answer: PartitionedResponse };
  /** The level at which a processor gives the main strokes a wished reduction. */
  fit: {
    ask: {
      input: ChainInput;
      processor: ProcessorState;
      /** Its parameter that is the level. */
      level: string;
      mains: readonly number[];
      wishedDb: number;
    };
    answer: FittedThreshold;
  };
  /** What folding left and right to one costs; null for one channel. */
  sides: { ask: { input: ChainInput; mains: readonly number[] }; answer: FoldLoss | null };
  /** What places the quick controls. */
  quick: {
    ask: { input: ChainInput; mains: readonly number[]; piece: Piece | null; fundamental: number | null };
    answer: QuickBasis | null;
  };
  /** How much louder the quick controls make the strokes, dB. */
  quickLouder: {
    ask: { input: ChainInput; mains: readonly number[]; values: QuickValues; basis: QuickBasis };
    answer: number;
  };
  effect: {
    ask: {
      input: ChainInput;
      processor: ProcessorState;
      /** Onsets of the main strokes, frames of the recording. */
      mains: readonly number[];
      /** Frequency of a ring whose decay is read, Hz. */
      ring: number | null;
    };
    answer: StrokeEffect;
  };
}
export type EvidenceKind = keyof EvidenceKinds;
export interface EvidenceRequest<K extends EvidenceKind = EvidenceKind> {
  readonly id: number;
  readonly kind: K;
  readonly ask: EvidenceKinds[K]["ask"];
}
export type EvidenceReply =
  | { readonly id: number; readonly answer: EvidenceKinds[EvidenceKind]["answer"] }
  | { readonly id: number; readonly error: string };

/** Mics whose whole audio is kept: the ones of the drum on the bench. 4 minutes at 48 kHz are 46 MB each; of long ones fewer, bytes. */
const micsKept = 3;
const mostKept = 6e8;
const bytesOf = (channels: readonly Float32Array[]): number =>
  channels.reduce((sum, x) => sum + x.byteLength, 0);

/** Places of chains of which the input is kept. */
const inputsKept = 2;
/** Effects that are kept: a picture and the card beside it ask for the same. */
const effectsKept = 4;

/** Computes the pictures of the benches over whole mics, away from the interface. */
export class EvidenceDesk {
  private readonly mics = new Kept<Float32Array[]>(micsKept, bytesOf, mostKept);
  private readonly inputs = new Kept<Stretch>(inputsKept, ({ channels }) => bytesOf(channels), mostKept);
  private readonly stretches = new Kept<Stretch>(1);
  private readonly effects = new Kept<StrokeEffect>(effectsKept);

  private load({ audio, start, layer }: MicAudio): Promise<Float32Array[]> {
    if (!layer) return this.mics.get(`${audio} ${start}`, () => fetchMic(audio, start));
    return this.mics.get(`${audio} ${JSON.stringify(layer)}`, async () => {
      const file = memoryReader([await fetchMic(audio, 0)]);
      const channels = Array.from({ length: layer.channels }, () => new Float32Array(layer.frames));
      channels.forEach((x, ch) => readLayer(layer.sounds, file(0, ch), 0, layer.frames, x));
      return channels;
    });
  }
  /** What comes into a place of a chain; kept, so that only what is looked at runs when it is turned. */
  private into(input: ChainInput): Promise<Stretch> {
    return this.inputs.get(JSON.stringify(input), () => this.runTo(input));
  }
  private async runTo({ source, chain, strokes, sampleRate }: ChainInput): Promise<Stretch> {
    const { from, channels } =
      "path" in source
        ? await this.stretches.get(JSON.stringify(source), () => fetchStretch(source.path))
        : { from: 0, channels: await this.load(source) };
    if (!chain.some((p) => p.on)) return { from, channels };
    const hits = Float64Array.from(framesWithin(strokes, from, channels[0]!.length));
    return { from, channels: processChain(chain, channels, sampleRate, hits) };
  }
  /** The main strokes in what comes into a place of a chain, frames of it. */
  private async mainsIn({ input, mains }: { input: ChainInput; mains: readonly number[] }) {
    const { from, channels } = await this.into(input);
    const x = channels[0]!;
    return { x, channels, onsets: framesWithin(mains, from, x.length), sampleRate: input.sampleRate };
  }
  private async effect({
    input,
    processor,
    mains,
    ring,
  }: EvidenceKinds["effect"]["ask"]): Promise<StrokeEffect> {
    const { from, channels } = await this.into(input);
    const frames = channels[0]!.length;
    const here = framesWithin(mains, from, frames);
    const hits = Float64Array.from(framesWithin(input.strokes, from, frames));
    const effect = strokeEffect(processor, channels, here, hits, input.sampleRate, ring);
    return { ...effect, strokes: here.map((f) => f + from) };
  }

  /** A mic and its layer behind their chains; strokes drive what follows them. */
  private async beside({
    main,
    layer,
    times,
    sampleRate,
  }: BesideAsk): Promise<[Float32Array[], Float32Array[]]> {
    const hits = Float64Array.from(times, (t) => t * sampleRate);
    const through = async ({ chain, ...mic }: BesideAsk["main"]): Promise<Float32Array[]> => {
      const audio = await this.load(mic);
      return chain.some((p) => p.on) ? processChain(chain, audio, sampleRate, hits) : audio;
    };
    return Promise.all([through(main), through(layer)]);
  }

  private async fit({
    input,
    processor,
    level,
    mains,
    wishedDb,
  }: EvidenceKinds["fit"]["ask"]): Promise<FittedThreshold> {
    const { x, onsets, sampleRate } = await this.mainsIn({ input, mains });
    return thresholdOver(x, onsets, processor, wishedDb, sampleRate, level);
  }

  /** How each kind is answered. */
  private readonly ways: {
    readonly [K in EvidenceKind]: (ask: EvidenceKinds[K]["ask"]) => Promise<EvidenceKinds[K]["answer"]>;
  } = {
    pair: async ({ main, second, times, sampleRate }) => {
      const [a, b] = await Promise.all([this.load(main), this.load(second)]);
      return pairEvidence(a[0]!, b[0]!, times, sampleRate);
    },
    chains: async ({ main, second, times, sampleRate }) => {
      const [a, b] = await Promise.all([this.load(main), this.load(second)]);
      return checkChains(
        { chain: main.chain, audio: a },
        { chain: second.chain, audio: b },
        times,
        sampleRate,
      );
    },
    loop: async ({ mic, sampleRate }) => findLoopStrokes(await this.load({ ...mic, start: 0 }), sampleRate),
    layerPhase: async ({ shifts, ...ask }) => {
      const [main, layer] = await this.beside(ask);
      return alignLayer(main[0]!, layer[0]!, ask.times, ask.sampleRate, shiftsOf({ shifts }));
    },
    layerBalance: async ({ gainsDb, ...ask }) => {
      const [main, layer] = await this.beside(ask);
      return layerBalance(main, layer, ask.times, gainsDb, ask.sampleRate);
    },
    spectra: async ({ input, pieces, hits, lateBy }) => {
      const { from, channels } = await this.into(input);
      return hitSpectra(channels[0]!, pieces, hits, lateBy, input.sampleRate, from);
    },
    partials: async ({ input, mains, fundamental }) => {
      const { from, channels } = await this.into(input);
      const times = mains.map((f) => (f - from) / input.sampleRate);
      return findPartials(channels[0]!, times, fundamental, input.sampleRate);
    },
    stack: async ({ mic, times, sampleRate }) => stackStrokes((await this.load(mic))[0]!, times, sampleRate),
    wave: async ({ mic, from, to }) => {
      // A copy: a view would take the whole mic to the page.
      return stretchOf((await this.load(mic))[0]!, from, to - from).slice();
    },
    response: async ({ mic, sampleRate }) =>
      partitionResponse(responseOf(await fetchMic(mic.audio, 0), sampleRate)),
    fit: (ask) => this.fit(ask),
    sides: async (ask) => {
      const { channels, onsets, sampleRate } = await this.mainsIn(ask);
      const [left, right] = channels;
      return left && right ? foldLoss([left, right], onsets, sampleRate) : null;
    },
    quick: async ({ piece, fundamental, ...ask }) => {
      const { x, onsets, sampleRate } = await this.mainsIn(ask);
      return quickBasis(x, onsets, { piece, fundamental, sampleRate });
    },
    quickLouder: async ({ values, basis, ...ask }) => {
      const { x, onsets, sampleRate } = await this.mainsIn(ask);
      return quickLouder(x, onsets, sampleRate, values, basis);
    },
    effect: (ask) => this.effects.get(JSON.stringify(ask), () => this.effect(ask)),
  };
  answer<K extends EvidenceKind>({ kind, ask }: EvidenceRequest<K>): Promise<EvidenceKinds[K]["answer"]> {
    return this.ways[kind](ask);
  }
}
