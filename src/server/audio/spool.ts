import { randomUUID } from "node:crypto";
import { readSync, writeSync } from "node:fs";
import { mkdir, open, rm, type FileHandle } from "node:fs/promises";
import { join } from "node:path";
import type { Samples } from "../../core/signal/samples";
import { uploadsFolder } from "./uploadsFolder";

const frameBytes = Float32Array.BYTES_PER_ELEMENT;

/** Where a signal lies in a spool; plain, so that it can be handed to another thread of the process. */
export interface SpooledPlace {
  /** Descriptor of the open file, which all threads of a process share. */
  readonly spool: number;
  /** Byte at which the signal begins. */
  readonly at: number;
  /** Frames. */
  readonly length: number;
}

/** A signal in a spool, read as it is asked for. Errors  what the system says when the file cannot be read. */
export class SpooledSamples implements Samples, SpooledPlace {
  readonly spool: number;
  readonly at: number;
  readonly length: number;

  constructor({ spool, at, length }: SpooledPlace) {
    this.spool = spool;
    this.at = at;
    this.length = length;
  }

  subarray(from: number, to = this.length): Float32Array {
    const frames = Math.max(0, Math.min(this.length, to) - from);
    const x = new Float32Array(frames);
    const bytes = new Uint8Array(x.buffer);
    let got = 0;
    while (got < bytes.length) {
      const n = readSync(this.spool, bytes, got, bytes.length - got, this.at + from * frameBytes + got);
      if (n === 0) throw new Error("a spool ends too early");
      got += n;
    }
    return x;
  }
}

/**
 * Decoded audio, and what is worked out of it by instant, that memory does not hold, in a file without a name: it goes with the process, however that ends. Silence takes no
 * room in it.
 */
export class Spool {
  private end = 0;
  private constructor(private readonly file: FileHandle) {}

  /** Errors  what the system says when there is no room or no folder. */
  static async open(folder = uploadsFolder()): Promise<Spool> {
    await mkdir(folder, { recursive: true });
    const path = join(/*turbopackIgnore: true*/ folder, `${randomUUID()}.spool`);
    const file = await open(/*turbopackIgnore: true*/ path, "wx+");
    await rm(path);
    return new Spool(file);
  }

  /** Room for a signal, silent until it is written to. */
  async take(frames: number): Promise<SpooledSamples> {
    const at = this.end;
    this.end += frames * frameBytes;
    await this.file.truncate(this.end);
    return new SpooledSamples({ spool: this.file.fd, at, length: frames });
  }
  /** Puts a whole signal away; several may be on their way at once. */
  async keep(x: Float32Array): Promise<SpooledSamples> {
    const signal = new SpooledSamples({ spool: this.file.fd, at: this.end, length: x.length });
    this.end += x.byteLength;
    await this.write(signal, 0, x);
    return signal;
  }
  /** Writes frames of a signal from its frame `from` on. */
  async write(signal: SpooledSamples, from: number, x: Float32Array): Promise<void> {
    const bytes = new Uint8Array(x.buffer, x.byteOffset, x.byteLength);
    let put = 0;
    while (put < bytes.length)
      put += (await this.file.write(bytes, put, bytes.length - put, signal.at + from * frameBytes + put))
        .bytesWritten;
  }
  /** The same at once, for what is rendered block by block. */
  writeNow(signal: SpooledSamples, from: number, x: Float32Array): void {
    const bytes = new Uint8Array(x.buffer, x.byteOffset, x.byteLength);
    for (let put = 0; put < bytes.length;)
      put += writeSync(this.file.fd, bytes, put, bytes.length - put, signal.at + from * frameBytes + put);
  }
  close(): Promise<void> {
    return this.file.close();
  }
}
