import { closeSync, openSync, readSync, statSync } from "node:fs";
import { isFlac, readAudioHeader } from "../../core/file/audioFile";
import type { AudioInfo } from "../../core/file/audioInfo";
import { decodeFrames } from "../../core/file/decodeFrames";
import { AudioFileError, checkNumbers } from "../../core/file/sampleFormat";
import type { ReadSource } from "../../core/engine/timeline";

/** Bytes at the beginning of a file within which its audio begins. */
const headBytes = 1 << 20;

/** A WAV or AIFF file that is read piece by piece, so that a long song needs little memory. Errors  Error that names the file. */
export class DiskMic {
  private at = -1;
  private count = 0;
  /** Kept from piece to piece: memory taken anew for each would cost more than the reading. */
  private piece: Float32Array[] = [];
  private bytes = Buffer.alloc(0);

  private constructor(
    private readonly path: string,
    private readonly file: number,
    readonly info: AudioInfo,
  ) {}

  /** Null for what must be decoded as a whole. */
  static open(path: string): DiskMic | null {
    const file = openSync(path, "r");
    try {
      const bytes = statSync(path).size;
      const head = Buffer.alloc(Math.min(bytes, headBytes));
      readSync(file, head, 0, head.length, 0);
      if (isFlac(head)) {
        closeSync(file);
        return null;
      }
      return new DiskMic(path, file, readAudioHeader(head, bytes));
    } catch (error) {
      closeSync(file);
      throw error instanceof AudioFileError ? new Error(`${path} ${error.message}`) : error;
    }
  }
  close(): void {
    closeSync(this.file);
  }

  /** Decodes frames of the file into `piece`; both channels of a pair ask for the same ones. */
  private take(from: number, count: number): void {
    if (from === this.at && count === this.count) return;
    const { channels, frameBytes, dataStart } = this.info;
    if (this.bytes.length < count * frameBytes) this.bytes = Buffer.alloc(count * frameBytes);
    const bytes = this.bytes.subarray(0, count * frameBytes);
    let got = 0;
    while (got < bytes.length) {
      const n = readSync(this.file, bytes, got, bytes.length - got, dataStart + from * frameBytes + got);
      if (n === 0) throw new Error(`${this.path} ends too early`);
      got += n;
    }
    if (count !== this.piece[0]?.length)
      this.piece = Array.from({ length: channels }, () => new Float32Array(count));
    this.at = -1;
    decodeFrames(bytes, this.info, count, this.piece);
    try {
      checkNumbers(this.info.sampleFormat, this.piece, from);
    } catch (error) {
      throw new Error(`${this.path} ${error instanceof Error ? error.message : String(error)}`);
    }
    this.at = from;
    this.count = count;
  }
  /** One channel, for `renderSong`. */
  source(channel: number): ReadSource {
    return (from, count, out, to) => {
      out.fill(0, to, to + count);
      const start = Math.max(0, from);
      const end = Math.min(this.info.frames, from + count);
      if (end <= start) return;
      this.take(start, end - start);
      out.set(this.piece[channel]!, to + start - from);
    };
  }
  /** All of it, per channel. */
  whole(): Float32Array[] {
    this.take(0, this.info.frames);
    const all = this.piece;
    this.piece = [];
    this.bytes = Buffer.alloc(0);
    this.at = -1;
    return all;
  }
}
