import { closeSync, openSync, renameSync, rmSync, writeSync } from "node:fs";
import Flac from "libflacjs/dist/libflac.js";

/** Frames that are encoded at once. */
const atOnce = 1 << 16;

/** Writes one or two channels as a 24-bit FLAC file (RFC 9639) with the libflac package as frames come; it has its name only once it is whole. */
export class FlacFile {
  private readonly encoder: number;
  private readonly part: string;
  /** null: closed, by having become whole or by being given up. */
  private fd: number | null;
  private written = 0;

  /** Errors  Error when the encoder refuses; what the system says. */
  constructor(
    private readonly path: string,
    channels: number,
    sampleRate: number,
    private readonly frames: number,
  ) {
    this.part = `${path}.part`;
    this.encoder = Flac.create_libflac_encoder(sampleRate, channels, 24, 5, frames, true, 0);
    this.fd = openSync(this.part, "w");
    const start = Flac.init_encoder_stream(
      this.encoder,
      (data: Uint8Array) => void writeSync(this.fd!, data),
      () => {},
    );
    if (this.encoder !== 0 && start === 0) return;
    this.abandon();
    throw new Error(`${path}: the FLAC encoder would not start (${start})`);
  }

  write(channels: readonly Float32Array[], frames: number): void {
    if (this.fd === null) throw new Error(`${this.path} is closed already`);
    for (let at = 0; at < frames; at += atOnce) {
      const n = Math.min(atOnce, frames - at);
      const ints = channels.map((x) =>
        Int32Array.from(x.subarray(at, at + n), (v) =>
          Math.max(-8388608, Math.min(8388607, Math.round(v * 8388608))),
        ),
      );
      if (!Flac.FLAC__stream_encoder_process(this.encoder, ints, n))
        throw new Error(`${this.path}: the FLAC encoder gave up`);
    }
    this.written += frames;
  }

  close(): void {
    Flac.FLAC__stream_encoder_finish(this.encoder);
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
    if (this.encoder !== 0) Flac.FLAC__stream_encoder_delete(this.encoder);
    if (this.fd !== null) closeSync(this.fd);
    this.fd = null;
  }
}
