import { closeSync, openSync, renameSync, rmSync, writeSync } from "node:fs";
import { randomSource } from "../../core/signal/random";
import type { NoiseShaper } from "../../core/file/noiseShaper";
import { encodeFrames, wavHeader, type WriteFormat } from "../../core/file/wavWrite";

/** Writes a WAV file as frames come; it has its name only once it is whole. */
export class WavFile {
  /** null: closed, by having become whole or by being given up. */
  private fd: number | null;
  private readonly part: string;
  private readonly shaping: NoiseShaper[] | null;
  private readonly random = randomSource(7);
  private written = 0;
  private pending: Uint8Array[] = [];
  private pendingBytes = 0;

  constructor(
    private readonly path: string,
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
    this.part = `${path}.part`;
    this.fd = openSync(this.part, "w");
    writeSync(this.fd, wavHeader(format, channels, sampleRate, frames, timeReference));
  }

  write(channels: readonly Float32Array[], frames: number): void {
    const bytes = encodeFrames(channels, this.format, 0, frames, this.random, this.shaping);
    this.written += frames;
    this.pending.push(bytes);
    this.pendingBytes += bytes.length;
    if (this.pendingBytes > 1 << 20) this.flush();
  }

  private flush(): void {
    if (this.fd === null) throw new Error(`${this.path} is closed already`);
    if (this.pendingBytes > 0) writeSync(this.fd, Buffer.concat(this.pending));
    this.pending = [];
    this.pendingBytes = 0;
  }

  close(): void {
    this.flush();
    this.shut();
    if (this.written !== this.frames) {
      rmSync(this.part);
      throw new Error(`${this.path}: ${this.written} of ${this.frames} frames were written`);
    }
    renameSync(this.part, this.path);
  }

  /** Gives the file up; one that is whole stays. Never throws over what went wrong before. */
  abandon(): void {
    if (this.fd === null) return;
    this.shut();
    rmSync(this.part, { force: true });
  }
  private shut(): void {
    if (this.fd !== null) closeSync(this.fd);
    this.fd = null;
  }
}
