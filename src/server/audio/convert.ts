import { AudioFileError } from "../../core/file/sampleFormat";
import { askAll, bundledFile, Thread } from "../thread";
import { flacReady } from "./flac";
import { readFlac, type FlacInfo } from "./flacDecoder";
import { RateConverter, resampleOne } from "./resample";
import { shared } from "./shared";

/** Long work on one file. Shape  bytes of a whole FLAC file; one channel between two rates in Hz. */
export type ConvertAsk =
  | { readonly kind: "flac"; readonly bytes: Uint8Array }
  | { readonly kind: "rate"; readonly x: Float32Array; readonly from: number; readonly to: number }
  /** The next frames of one channel that comes in pieces; `last`: with all that is held back. */
  | (RatePiece & { readonly kind: "piece" });
interface RatePiece {
  readonly x: Float32Array;
  readonly from: number;
  readonly to: number;
  readonly last: boolean;
}
export interface Converted {
  readonly channels: Float32Array[];
  readonly info: FlacInfo | null;
}
export type ConvertReply =
  { readonly answer: Converted } | { readonly error: string; readonly unreadable: boolean };

/** The channel that comes in pieces: a thread has one at a time. */
let begun: RateConverter | null = null;

async function convertPiece({ x, from, to, last }: RatePiece): Promise<Float32Array[]> {
  begun ??= await RateConverter.open(from, to);
  const parts = [begun.next(x)];
  if (!last) return parts;
  parts.push(begun.end());
  begun.close();
  begun = null;
  return parts;
}

/** Does it on this thread. Errors  AudioFileError for a file that cannot be decoded. */
export async function convertHere(ask: ConvertAsk): Promise<Converted> {
  if (ask.kind === "rate")
    return { channels: [shared(await resampleOne(ask.x, ask.from, ask.to))], info: null };
  if (ask.kind === "piece") return { channels: await convertPiece(ask), info: null };
  await flacReady();
  const { audio, ...info } = readFlac(ask.bytes);
  return { channels: audio.map(shared), info };
}

/** Does each on a thread of its own, so that the server goes on answering; here where threads were not built. */
async function convertAll(asks: readonly ConvertAsk[]): Promise<Converted[]> {
  const file = bundledFile("convertWorker.mjs");
  if (!file) return askAll([{ ask: convertHere }], asks);
  const crew = asks.map(() => new Thread<ConvertAsk, ConvertReply>(file));
  try {
    const replies = await askAll(crew, asks);
    return replies.map((reply) => {
      if ("answer" in reply) return reply.answer;
      throw reply.unreadable ? new AudioFileError(reply.error) : new Error(reply.error);
    });
  } finally {
    for (const thread of crew) thread.close();
  }
}

/** Converts one or two channels to another sample rate, side by side. */
export async function resample(
  channels: readonly Float32Array[],
  from: number,
  to: number,
): Promise<Float32Array[]> {
  if (from === to) return [...channels];
  const asks = channels.map((x): ConvertAsk => ({ kind: "rate", x: shared(x), from, to }));
  return (await convertAll(asks)).map(({ channels: [y] }) => y!);
}

/**
 * Converts channels that come a piece after another to another sample rate, each channel on a thread of its own. The pieces that come
 * out have lengths of their own. Errors  Error where the threads were not built.
 */
export async function* resampledPieces(
  pieces: AsyncIterable<readonly Float32Array[]>,
  channels: number,
  from: number,
  to: number,
): AsyncGenerator<readonly Float32Array[]> {
  const file = bundledFile("convertWorker.mjs");
  if (!file) throw new Error("the threads that convert sample rates were not built");
  const crew = Array.from({ length: channels }, () => new Thread<ConvertAsk, ConvertReply>(file));
  const through = async (piece: readonly Float32Array[], last: boolean): Promise<Float32Array[][]> => {
    const asks = crew.map((thread, ch) => thread.ask({ kind: "piece", x: piece[ch]!, from, to, last }));
    const parts = (await Promise.all(asks)).map((reply) => {
      if ("error" in reply) throw new Error(reply.error);
      return reply.answer.channels;
    });
    return parts[0]!.map((_, n) => parts.map((p) => p[n]!)).filter(([x]) => x!.length > 0);
  };
  try {
    // A copy: a view would take all that it is of to the thread.
    for await (const piece of pieces)
      yield* await through(
        piece.map((x) => x.slice()),
        false,
      );
    yield* await through(
      crew.map(() => new Float32Array(0)),
      true,
    );
  } finally {
    await Promise.all(crew.map((thread) => thread.close()));
  }
}

/** Decodes a whole FLAC file. Errors  AudioFileError in words that follow the file's name. */
export async function decodeFlacFile(bytes: Uint8Array): Promise<FlacInfo & { audio: Float32Array[] }> {
  const [{ channels, info }] = (await convertAll([{ kind: "flac", bytes }])) as [Converted];
  return { ...info!, audio: channels };
}
