import { AudioFileError } from "../../core/file/sampleFormat";
import { askAll, bundledFile, Thread } from "../thread";
import { flacReady } from "./flac";
import { readFlac, type FlacInfo } from "./flacDecoder";
import { resampleOne } from "./resample";
import { shared } from "./shared";

/** Long work on one file. Shape  bytes of a whole FLAC file; one channel between two rates in Hz. */
export type ConvertAsk =
  | { readonly kind: "flac"; readonly bytes: Uint8Array }
  | { readonly kind: "rate"; readonly x: Float32Array; readonly from: number; readonly to: number };
export interface Converted {
  readonly channels: Float32Array[];
  readonly info: FlacInfo | null;
}
export type ConvertReply =
  { readonly answer: Converted } | { readonly error: string; readonly unreadable: boolean };

/** Does it on this thread. Errors  AudioFileError for a file that cannot be decoded. */
export async function convertHere(ask: ConvertAsk): Promise<Converted> {
  if (ask.kind === "rate")
    return { channels: [shared(await resampleOne(ask.x, ask.from, ask.to))], info: null };
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

/** Decodes a whole FLAC file. Errors  AudioFileError in words that follow the file's name. */
export async function decodeFlacFile(bytes: Uint8Array): Promise<FlacInfo & { audio: Float32Array[] }> {
  const [{ channels, info }] = (await convertAll([{ kind: "flac", bytes }])) as [Converted];
  return { ...info!, audio: channels };
}
