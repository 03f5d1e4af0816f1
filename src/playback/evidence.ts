import { responseOf } from "../core/engine/responses";
import { partitionResponse, type PartitionedResponse } from "../core/signal/partitionedResponse";
import { checkChains, type ChainCheck } from "../core/align/chainCheck";
import { pairEvidence, type PairEvidence } from "../core/align/pairEvidence";
import { hitSpectra, type HitSpectra } from "../core/clean/spectra";
import { strokeEffect, type StrokeEffect } from "../core/shape/hitReductions";
import { stackStrokes, type StrokeStack } from "../core/hits/stack";
import type { Hit, Piece, ProcessorState } from "../core/song/song";
import { fetchMic } from "./micAudio";

/** A mic whose audio lies in the store. */
export interface MicAudio {
  readonly audio: string;
  /** Song frame at which the file begins. */
  readonly start: number;
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
  spectra: {
    ask: { mic: MicAudio; piece: Piece; hits: readonly Hit[]; lateBy: number; sampleRate: number };
    answer: HitSpectra;
  };
  /** All strokes of a mic side by side. */
  stack: { ask: { mic: MicAudio; times: readonly number[]; sampleRate: number }; answer: StrokeStack };
  /** Frames [from, to) of a mic. */
  wave: { ask: { mic: MicAudio; from: number; to: number }; answer: Float32Array };
  /** A mic whole, ready to be convolved with. */
  response: { ask: { mic: MicAudio; sampleRate: number }; answer: PartitionedResponse };
  effect: {
    ask: {
      mic: MicAudio;
      chain: readonly ProcessorState[];
      processor: string;
      strokes: readonly number[];
      hits: readonly number[];
      sampleRate: number;
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

/** Mics whose whole audio is kept: the ones of the drum on the bench. 4 minutes at 48 kHz are 46 MB each. */
const micsKept = 3;

/** Computes the pictures of the benches over whole mics, away from the interface. */
export class EvidenceDesk {
  private readonly mics = new Map<string, Promise<Float32Array[]>>();

  private load({ audio, start }: MicAudio): Promise<Float32Array[]> {
    const key = `${audio} ${start}`;
    const held = this.mics.get(key) ?? fetchMic(audio, start);
    this.mics.delete(key); // set again: the order of the map is the order of use
    this.mics.set(key, held);
    held.catch(() => this.mics.delete(key));
    if (this.mics.size > micsKept) this.mics.delete(this.mics.keys().next().value!);
    return held;
  }

  async answer(request: EvidenceRequest): Promise<EvidenceKinds[EvidenceKind]["answer"]> {
    if (request.kind === "pair") {
      const { main, second, times, sampleRate } = request.ask as EvidenceKinds["pair"]["ask"];
      const [a, b] = await Promise.all([this.load(main), this.load(second)]);
      return pairEvidence(a[0]!, b[0]!, times, sampleRate);
    }
    if (request.kind === "chains") {
      const { main, second, times, sampleRate } = request.ask as EvidenceKinds["chains"]["ask"];
      const [a, b] = await Promise.all([this.load(main), this.load(second)]);
      return checkChains(
        { chain: main.chain, audio: a },
        { chain: second.chain, audio: b },
        times,
        sampleRate,
      );
    }
    if (request.kind === "spectra") {
      const { mic, piece, hits, lateBy, sampleRate } = request.ask as EvidenceKinds["spectra"]["ask"];
      return hitSpectra((await this.load(mic))[0]!, piece, hits, lateBy, sampleRate);
    }
    if (request.kind === "stack") {
      const { mic, times, sampleRate } = request.ask as EvidenceKinds["stack"]["ask"];
      return stackStrokes((await this.load(mic))[0]!, times, sampleRate);
    }
    if (request.kind === "response") {
      const { mic, sampleRate } = request.ask as EvidenceKinds["response"]["ask"];
      return partitionResponse(responseOf(await fetchMic(mic.audio, 0), sampleRate));
    }
    if (request.kind === "wave") {
      const { mic, from, to } = request.ask as EvidenceKinds["wave"]["ask"];
      const x = (await this.load(mic))[0]!;
      const cut = new Float32Array(to - from);
      if (to > 0) cut.set(x.subarray(Math.max(0, from), Math.min(x.length, to)), Math.max(0, -from));
      return cut;
    }
    const { mic, chain, processor, strokes, hits, sampleRate, ring } =
      request.ask as EvidenceKinds["effect"]["ask"];
    return strokeEffect(
      chain,
      processor,
      await this.load(mic),
      strokes,
      Float64Array.from(hits),
      sampleRate,
      ring,
    );
  }
}
