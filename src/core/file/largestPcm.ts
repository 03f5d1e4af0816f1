import { instantiateKernels, kernelsReserve, type Kernels } from "../kernels/kernels";
import { bytesOf, type SampleFormat } from "./sampleFormat";

/** Formats whose largest sample is told from their bytes: nearly all that is recorded. */
export type PlainPcm = "pcm16" | "pcm24";
export const isPlainPcm = (format: SampleFormat): format is PlainPcm =>
  format === "pcm16" || format === "pcm24";

/** Samples that are looked at in one go. */
const atOnce = 65536;
/** Bytes of silence behind them: a kernel reads whole vectors. */
const behind = 16;

/** The kernels and the bytes they look at; made once on a thread. */
interface Look {
  readonly kernels: Kernels;
  readonly bytes: Uint8Array;
}
let look: Look | undefined;

function makeLook(): Look {
  const { kernels, buffer } = instantiateKernels(kernelsReserve + atOnce * bytesOf.pcm24 + behind);
  return { kernels, bytes: new Uint8Array(buffer, kernelsReserve) };
}

/**
 * Largest magnitude of samples as they lie in a file, full scale 1: what decoding them and looking would give, without
 * either, because it runs over every byte that comes in.
 * Shape   bytes: `count` samples in a row, of whatever channel.
 */
export function largestPcm(bytes: Uint8Array, format: PlainPcm, count: number): number {
  const { kernels, bytes: seen } = (look ??= makeLook());
  const [largest, fullScale] =
    format === "pcm24" ? [kernels.largest24, 2147483648] : [kernels.largest16, 32768];
  const width = bytesOf[format];
  let most = 0;
  for (let at = 0; at < count; at += atOnce) {
    const samples = Math.min(atOnce, count - at);
    seen.set(bytes.subarray(at * width, (at + samples) * width));
    seen.fill(0, samples * width, samples * width + behind);
    most = Math.max(most, largest(kernelsReserve, samples));
  }
  return most / fullScale;
}
