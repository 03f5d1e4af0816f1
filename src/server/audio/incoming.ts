import { behindAudio, isFlac, readAudioHeader, readMarkers } from "../../core/file/audioFile";
import type { AudioInfo, Marker } from "../../core/file/audioInfo";
import { isPlainPcm, largestPcm } from "../../core/file/largestPcm";
import { decodeFrames } from "../../core/file/decodeFrames";
import { AudioFileError, checkNumbers, type SampleFormat } from "../../core/file/sampleFormat";
import { WholeFrames } from "../../core/file/wholeFrames";
import { LargestSample } from "./largestSample";

/** Bytes that must hold all that comes before the audio. */
const headBytes = 256 * 1024;
/** Bytes behind the audio that are searched for markers. */
const tailBytes = 1 << 20;

/** What was learnt of a file while it came in. */
export type Incoming =
  | { readonly kind: "flac" }
  | {
      readonly kind: "plain";
      readonly info: AudioInfo;
      readonly peak: number;
      readonly markers: readonly Marker[];
    };

/**
 * Follows the bytes of an audio file as they come in: reads the header, checks every sample, finds the largest and the
 * markers. What it keeps of a chunk it copies, since a chunk's memory may be used again.
 */
export class IncomingAudio {
  private flac = false;
  private info: AudioInfo | null = null;
  private readonly largest = new LargestSample();
  private head: Buffer = Buffer.alloc(0);
  private whole: WholeFrames | null = null;
  private readonly tail: Buffer[] = [];
  private tailLength = 0;
  private frames = 0;
  private decoded: Float32Array[] = [];

  constructor(private readonly declaredBytes: number) {}

  /** Of what came in, by its first bytes. */
  get mediaType(): string {
    return this.flac
      ? "audio/flac"
      : this.head.subarray(0, 4).toString("latin1") === "FORM"
        ? "audio/aiff"
        : "audio/wav";
  }

  readonly watch = (chunk: Buffer, byteStart: number): void => {
    if (this.flac) return;
    if (!this.info) {
      if (byteStart > 0) return;
      if (isFlac(chunk)) {
        this.flac = true;
        return;
      }
      this.head = Buffer.from(chunk.subarray(0, headBytes));
      this.info = readAudioHeader(this.head, this.declaredBytes);
    }
    this.takeFrames(this.info, chunk, byteStart);
    this.takeTail(this.info, chunk, byteStart);
  };

  private takeFrames({ dataStart, frameBytes, frames }: AudioInfo, chunk: Buffer, byteStart: number): void {
    const from = Math.max(0, dataStart - byteStart);
    const to = dataStart + frames * frameBytes - byteStart;
    if (from >= chunk.length || to <= from) return;
    this.whole ??= new WholeFrames(frameBytes);
    this.whole.take(chunk.subarray(from, to), (bytes, count) => this.look(bytes, this.info!, count));
  }
  /** Whole numbers are always numbers, and within full scale; all else is decoded and looked at. */
  private look(bytes: Uint8Array, { sampleFormat, channels }: AudioInfo, frames: number): void {
    if (isPlainPcm(sampleFormat)) this.largest.take(largestPcm(bytes, sampleFormat, frames * channels));
    else this.lookDecoded(bytes, sampleFormat, channels, frames);
    this.frames += frames;
  }
  private lookDecoded(bytes: Uint8Array, sampleFormat: SampleFormat, channels: number, frames: number): void {
    if ((this.decoded[0]?.length ?? 0) < frames)
      this.decoded = Array.from({ length: channels }, () => new Float32Array(frames));
    decodeFrames(bytes, { sampleFormat, channels }, frames, this.decoded);
    checkNumbers(sampleFormat, this.decoded, this.frames, frames);
    this.largest.add(this.decoded, frames);
  }
  private takeTail(info: AudioInfo, chunk: Buffer, byteStart: number): void {
    const from = Math.max(0, behindAudio(info) - byteStart);
    if (from >= chunk.length || this.tailLength >= tailBytes) return;
    const part = Buffer.from(chunk.subarray(from, from + tailBytes - this.tailLength));
    this.tail.push(part);
    this.tailLength += part.length;
  }

  /** Errors  AudioFileError when the audio is not all there. */
  finish(byteLength: number): Incoming {
    if (byteLength === 0) throw new AudioFileError("is empty (0 bytes)");
    if (this.flac) return { kind: "flac" };
    const { info, largest, frames } = this;
    if (!info) throw new AudioFileError("is no readable audio file");
    if (frames < info.frames)
      throw new AudioFileError(`ends too early: ${info.frames} frames are promised, ${frames} are there`);
    const parts = [this.head.subarray(12, info.dataStart), Buffer.concat(this.tail)];
    return { kind: "plain", info, peak: largest.peak, markers: readMarkers(this.head, parts) };
  }
}
