import Flac from "libflacjs/dist/libflac.js";
import { PartFile } from "./partFile";

/** Frames that are encoded at once. */
const atOnce = 1 << 16;

/** Writes one or two channels as a 24-bit FLAC file (RFC 9639) with the libflac package as frames come; it has its name only once it is whole. */
export class FlacFile {
  private readonly file: PartFile;
  /** 0: none, or given back. */
  private encoder: number;
  private written = 0;

  /** Errors  Error when the encoder refuses; what the system says. */
  constructor(
    private readonly path: string,
    channels: number,
    sampleRate: number,
    private readonly frames: number,
  ) {
    this.file = new PartFile(path);
    this.encoder = Flac.create_libflac_encoder(sampleRate, channels, 24, 5, frames, true, 0);
    const start = Flac.init_encoder_stream(
      this.encoder,
      (data: Uint8Array) => this.file.write(data),
      () => {},
    );
    if (this.encoder !== 0 && start === 0) return;
    this.abandon();
    throw new Error(`${path}: the FLAC encoder would not start (${start})`);
  }

  write(channels: readonly Float32Array[], frames: number): void {
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
    this.giveBack();
    this.file.finish(this.written, this.frames);
  }
  /** Gives the file up; one that is whole stays. Never throws over what went wrong before. */
  abandon(): void {
    this.giveBack();
    this.file.abandon();
  }
  private giveBack(): void {
    if (this.encoder !== 0) Flac.FLAC__stream_encoder_delete(this.encoder);
    this.encoder = 0;
  }
}
