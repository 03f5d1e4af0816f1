import { decodeFrames, type SampleFormat } from "../core/file/wav";

/** How audio lies in a stored file, as the server tells it. */
interface StoredAudio {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly sampleRate: number;
  readonly frameBytes: number;
  readonly dataStart: number;
  readonly frames: number;
}

/** Frames of one page: 0.7 s at 48 kHz, about 100 KB of 24-bit audio, one short answer of the server. */
export const pageFrames = 32768;
/** Pages kept per mic: a loop of 16 s plays from memory; 24 mics take 75 MB. */
const pagesKept = 24;

/** One mic's audio, fetched by range and decoded page by page; the least used pages are let go. */
export class AudioPages {
  private info: StoredAudio | null = null;
  private readonly pages = new Map<number, Float32Array[]>();

  constructor(
    private readonly id: string,
    private readonly channels: number,
  ) {}

  private async request(from: number, to: number): Promise<Response> {
    const response = await fetch(`/api/audio/${this.id}`, { headers: { range: `bytes=${from}-${to - 1}` } });
    if (!response.ok) throw new Error(`the server answered ${response.status}`);
    return response;
  }

  private async describe(): Promise<StoredAudio> {
    if (!this.info) {
      const response = await this.request(0, 1);
      await response.arrayBuffer();
      this.info = JSON.parse(response.headers.get("x-audio")!) as StoredAudio;
    }
    return this.info;
  }

  get length(): number {
    return this.info?.frames ?? 0;
  }

  private async fetchFrames(from: number, to: number): Promise<Float32Array[]> {
    const info = await this.describe();
    const end = Math.min(info.frames, to);
    const out = Array.from({ length: this.channels }, () => new Float32Array(Math.max(0, end - from)));
    if (end <= from) return out;
    const { dataStart, frameBytes } = info;
    const response = await this.request(dataStart + from * frameBytes, dataStart + end * frameBytes);
    decodeFrames(new Uint8Array(await response.arrayBuffer()), info, end - from, out);
    return out;
  }

  /** All frames of the mic at once. */
  async whole(): Promise<Float32Array[]> {
    const { frames } = await this.describe();
    return this.fetchFrames(0, frames);
  }

  /** Makes frames [from, to) ready for `read`. */
  async load(from: number, to: number): Promise<void> {
    const first = Math.floor(Math.max(0, from) / pageFrames);
    const last = Math.floor(Math.max(0, to - 1) / pageFrames);
    for (let p = first; p <= last; p++) {
      const held = this.pages.get(p);
      if (held) {
        this.pages.delete(p); // set again below: the order of the map is the order of use
        this.pages.set(p, held);
        continue;
      }
      if (this.info && p * pageFrames >= this.info.frames) break;
      this.pages.set(p, await this.fetchFrames(p * pageFrames, (p + 1) * pageFrames));
      if (this.pages.size > pagesKept) this.pages.delete(this.pages.keys().next().value!);
    }
  }

  /** Copies loaded frames; what is not there is silence. */
  read(channel: number, from: number, count: number, out: Float32Array, to: number): void {
    out.fill(0, to, to + count);
    const end = from + count;
    for (let at = Math.max(0, from); at < end;) {
      const p = Math.floor(at / pageFrames);
      const stop = Math.min(end, (p + 1) * pageFrames);
      const page = this.pages.get(p)?.[channel];
      const base = p * pageFrames;
      if (page && at - base < page.length)
        out.set(page.subarray(at - base, Math.min(page.length, stop - base)), to + at - from);
      at = stop;
    }
  }
}
