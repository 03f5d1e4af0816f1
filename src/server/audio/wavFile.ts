import { randomSource } from "../../core/signal/random";
import type { NoiseShaper } from "../../core/file/noiseShaper";
import { encodeFrames, wavHeader, type WriteFormat } from "../../core/file/wavWrite";
import { PartFile } from "./partFile";

/** Bytes that are written in one go. */
const flushed = 1 << 20;

/** Writes a WAV file as frames come; it has its name only once it is whole. */
export class WavFile {
  private readonly file: PartFile;
  private readonly shaping: NoiseShaper[] | null;
  private readonly random = randomSource(7);
  private written = 0;
  private pending: Uint8Array[] = [];
  private pendingBytes = 0;

  constructor(
    path: string,
    private readonly format: WriteFormat,
    channels: number,
    sampleRate: number,
    private readonly frames: number,
    {
      timeReference = null,
      shaping = null,
    }: { timeReference?: number | null; shaping?: NoiseShaper[] | null } = {},
  ) {
    this.shaping = shaping;
    this.file = new PartFile(path);
    this.file.write(wavHeader(format, channels, sampleRate, frames, timeReference));
  }

  write(channels: readonly Float32Array[], frames: number): void {
    const bytes = encodeFrames(channels, this.format, 0, frames, this.random, this.shaping);
    this.written += frames;
    this.pending.push(bytes);
    this.pendingBytes += bytes.length;
    if (this.pendingBytes > flushed) this.flush();
  }
  private flush(): void {
    this.file.write(Buffer.concat(this.pending));
    this.pending = [];
    this.pendingBytes = 0;
  }
  close(): void {
    this.flush();
    this.file.finish(this.written, this.frames);
  }
  /** Gives the file up; one that is whole stays. Never throws over what went wrong before. */
  abandon(): void {
    this.file.abandon();
  }
}
