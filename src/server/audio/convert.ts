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

/** Converts one channel that comes in pieces; begun by the first of them, and over with the last. */
class PieceConverter {
  private begun: RateConverter | null = null;
  async take({ x, from, to, last }: RatePiece): Promise<Float32Array[]> {
    this.begun ??= await RateConverter.open(from, to);
    const parts = [this.begun.next(x)];
    if (!last) return parts;
    parts.push(this.begun.end());
    this.begun.close();
    this.begun = null;
    return parts;
  }
}
/** The channel of this thread. */
const ownPieces = new PieceConverter();

/** Does it on this thread. Errors  AudioFileError for a file that cannot be decoded. */
export async function convertHere(ask: ConvertAsk): Promise<Converted> {
  if (ask.kind === "rate")
    return { channels: [shared(await resampleOne(ask.x, ask.from, ask.to))], info: null };
  if (ask.kind === "piece") return { channels: await ownPieces.take(ask), info: null };
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

/** Does what one channel asks for, one piece at a time. */
interface PieceLane {
  take(piece: RatePiece): Promise<Float32Array[]>;
  close(): void | Promise<void>;
}

/** On a thread of its own, or here where threads were not built. */
function pieceLane(): PieceLane {
  const file = bundledFile("convertWorker.mjs");
  if (!file) {
    const here = new PieceConverter();
    return { take: (piece) => here.take(piece), close: () => {} };
  }
  const thread = new Thread<ConvertAsk, ConvertReply>(file);
  return {
    async take(piece) {
      const reply = await thread.ask({ kind: "piece", ...piece });
      if ("error" in reply) throw new Error(reply.error);
      return reply.answer.channels;
    },
    close: () => thread.close(),
  };
}

/** Converts channels that come a piece after another to another sample rate. The pieces that come out have lengths of their own. */
export async function* resampledPieces(
  pieces: Iterable<readonly Float32Array[]> | AsyncIterable<readonly Float32Array[]>,
  channels: number,
  from: number,
  to: number,
): AsyncGenerator<readonly Float32Array[]> {
  const lanes = Array.from({ length: channels }, pieceLane);
  const through = async (piece: readonly Float32Array[], last: boolean): Promise<Float32Array[][]> => {
    const parts = await Promise.all(lanes.map((lane, ch) => lane.take({ x: piece[ch]!, from, to, last })));
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
      lanes.map(() => new Float32Array(0)),
      true,
    );
  } finally {
    await Promise.all(lanes.map((lane) => lane.close()));
  }
}

/** Decodes a whole FLAC file. Errors  AudioFileError in words that follow the file's name. */
export async function decodeFlacFile(bytes: Uint8Array): Promise<FlacInfo & { audio: Float32Array[] }> {
  const [{ channels, info }] = (await convertAll([{ kind: "flac", bytes }])) as [Converted];
  return { ...info!, audio: channels };
}
