import { decodeFrames, type SampleFormat } from "../core/file/wav";
import type { StreamMic } from "./messages";

/** Frames of one page: 0.17 s at 48 kHz, so that little must come before the first sound. */
export const pageFrames = 8192;
/** Pages kept: a loop of 16 s plays from memory; 24 mics take 75 MB, whatever the length of the song. */
const pagesKept = 96;
/** Most pages fetched with one question. */
const pagesAtOnce = 8;

/** How one mic's frames lie in an answer. */
interface Part {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly frameBytes: number;
  /** Frames in this answer; fewer at the end of the file. */
  readonly frames: number;
}

/**
 * The audio of all mics of a song, fetched side by side: one question brings the same frames of every mic. Pages that
 * were not used for longest are let go.
 */
export class SongPages {
  /** [page][mic][channel] */
  private readonly pages = new Map<number, Float32Array[][]>();
  private readonly ids: string;

  constructor(
    private readonly mics: readonly StreamMic[],
    private readonly frames: number,
  ) {
    this.ids = mics.map((m) => m.audio).join(",");
  }

  /** Makes frames [from, to) ready for `read`. Errors  Error with the reason when the server cannot be asked. */
  async load(from: number, to: number): Promise<void> {
    const first = Math.floor(Math.max(0, from) / pageFrames);
    const last = Math.floor((Math.min(this.frames, Math.max(0, to)) - 1) / pageFrames);
    for (let p = first; p <= last; p++) {
      const held = this.pages.get(p);
      if (held) {
        this.pages.delete(p); // set again: the order of the map is the order of use
        this.pages.set(p, held);
        continue;
      }
      let end = p + 1;
      while (end <= last && end - p < pagesAtOnce && !this.pages.has(end)) end++;
      await this.fetch(p, end);
      p = end - 1;
    }
  }

  private async fetch(first: number, end: number): Promise<void> {
    const from = first * pageFrames;
    const count = (end - first) * pageFrames;
    const response = await fetch(`/api/audio?ids=${this.ids}&from=${from}&count=${count}`);
    if (!response.ok) throw new Error(`the server answered ${response.status}`);
    const bytes = new Uint8Array(await response.arrayBuffer());
    const head = new DataView(bytes.buffer).getUint32(0, true);
    const parts = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + head))) as Part[];
    for (let p = first; p < end; p++)
      this.pages.set(
        p,
        this.mics.map((m) => Array.from({ length: m.channels }, () => new Float32Array(pageFrames))),
      );
    let at = 4 + head;
    parts.forEach((part, m) => {
      for (let p = first; p < end; p++) {
        const frames = Math.min(pageFrames, Math.max(0, part.frames - (p - first) * pageFrames));
        const size = frames * part.frameBytes;
        decodeFrames(bytes.subarray(at, at + size), part, frames, this.pages.get(p)![m]!);
        at += size;
      }
    });
    while (this.pages.size > pagesKept) this.pages.delete(this.pages.keys().next().value!);
  }

  /** Copies loaded frames of one channel; what is not there is silence. */
  read(mic: number, channel: number, from: number, count: number, out: Float32Array, to: number): void {
    const end = from + count;
    for (let at = from; at < end;) {
      const p = Math.floor(at / pageFrames);
      const stop = Math.min(end, (p + 1) * pageFrames);
      const page = this.pages.get(p)?.[mic]![channel];
      const base = p * pageFrames;
      if (page) out.set(page.subarray(at - base, stop - base), to + at - from);
      else out.fill(0, to + at - from, to + stop - from);
      at = stop;
    }
  }
}
