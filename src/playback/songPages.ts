import { decodeFrames } from "../core/file/decodeFrames";
import type { SampleFormat } from "../core/file/sampleFormat";
import type { StreamMic } from "./messages";
import { fetchMic } from "./micAudio";

/** Frames of one page: 43 ms at 48 kHz, so that little must come before the first sound. */
export const pageFrames = 2048;
/** Pages kept: a loop of 16 s plays from memory; 24 mics take 75 MB, whatever the length of the song. */
const pagesKept = 384;
/** Most pages fetched with one question. */
const pagesAtOnce = 32;

/** How one mic's frames lie in an answer. */
interface Part {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly frameBytes: number;
  /** Frames of silence before the file begins. */
  readonly skip: number;
  /** Frames in this answer; fewer at the end of the file. */
  readonly frames: number;
}

interface Coming {
  readonly done: Promise<void>;
  readonly signal: AbortSignal;
}

/**
 * The audio of all mics of a song, fetched side by side: one question brings the same frames of every mic. Pages that
 * were not used for longest are let go.
 */
export class SongPages {
  /** [page][mic][channel] */
  private readonly pages = new Map<number, Float32Array[][]>();
  /** Pages that are on their way, unless their signal has broken them off. */
  private readonly coming = new Map<number, Coming>();
  private readonly which: string;
  /** Mics that are read page by page, by their places. */
  private readonly paged: readonly number[];
  /** Files that are held whole, by the place of their mic, and the fetching of them. */
  private readonly wholes = new Map<number, readonly Float32Array[]>();
  private fetchingWholes: Promise<unknown> | null = null;

  constructor(
    private readonly mics: readonly StreamMic[],
    private readonly frames: number,
  ) {
    this.paged = mics.flatMap((m, i) => (m.whole ? [] : [i]));
    const asked = this.paged.map((i) => mics[i]!);
    const starts = asked.some((m) => m.start > 0) ? `&starts=${asked.map((m) => m.start).join(",")}` : "";
    this.which = `ids=${asked.map((m) => m.audio).join(",")}${starts}`;
  }

  /**
   * Makes frames [from, to) ready for `read`; `signal` breaks it off.
   * Errors  Error with the reason when the server cannot be asked.
   */
  async load(from: number, to: number, signal: AbortSignal): Promise<void> {
    const first = Math.floor(Math.max(0, from) / pageFrames);
    const last = Math.floor((Math.min(this.frames, Math.max(0, to)) - 1) / pageFrames);
    const waits = new Set<Promise<void>>();
    for (let p = first; p <= last; p++) {
      const held = this.pages.get(p);
      const coming = this.onTheWay(p);
      if (held) {
        this.pages.delete(p); // set again: the order of the map is the order of use
        this.pages.set(p, held);
      } else if (coming) waits.add(coming.done);
      else {
        let end = p + 1;
        while (end <= last && end - p < pagesAtOnce && !this.pages.has(end) && !this.onTheWay(end)) end++;
        waits.add(this.bring(p, end, signal));
        p = end - 1;
      }
    }
    await Promise.all([...waits, this.loadWholes()]);
  }

  /** Fetches what is held whole, once; what failed is tried again by the next who asks. */
  private loadWholes(): Promise<unknown> {
    const missing = this.mics.flatMap(({ whole }, m) => (whole && !this.wholes.has(m) ? [m] : []));
    if (missing.length === 0) return Promise.resolve();
    return (this.fetchingWholes ??= Promise.all(
      missing.map(async (m) => this.wholes.set(m, await fetchMic(this.mics[m]!.audio, 0))),
    ).finally(() => (this.fetchingWholes = null)));
  }

  private onTheWay(page: number): Coming | undefined {
    const coming = this.coming.get(page);
    return coming?.signal.aborted ? undefined : coming;
  }

  /** Asks for pages [first, end) and notes that they are coming. */
  private bring(first: number, end: number, signal: AbortSignal): Promise<void> {
    const done = this.fetch(first, end, signal).finally(() => {
      for (let p = first; p < end; p++) if (this.coming.get(p) === coming) this.coming.delete(p);
    });
    const coming: Coming = { done, signal };
    for (let p = first; p < end; p++) this.coming.set(p, coming);
    return done;
  }

  private async fetch(first: number, end: number, signal: AbortSignal): Promise<void> {
    const silent = () =>
      this.mics.map((m) =>
        Array.from({ length: m.whole ? 0 : m.channels }, () => new Float32Array(pageFrames)),
      );
    if (this.paged.length === 0) {
      for (let p = first; p < end; p++) this.pages.set(p, silent());
      return;
    }
    const from = first * pageFrames;
    const count = (end - first) * pageFrames;
    const response = await fetch(`/api/audio?${this.which}&from=${from}&count=${count}`, { signal });
    if (!response.ok) throw new Error(`the server answered ${response.status}`);
    const bytes = new Uint8Array(await response.arrayBuffer());
    const head = new DataView(bytes.buffer).getUint32(0, true);
    const parts = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + head))) as Part[];
    for (let p = first; p < end; p++) this.pages.set(p, silent());
    let at = 4 + head;
    parts.forEach((part, asked) => {
      const m = this.paged[asked]!;
      for (let p = first; p < end; p++) {
        const offset = (p - first) * pageFrames;
        const silent = Math.min(pageFrames, Math.max(0, part.skip - offset));
        const end = Math.min(pageFrames, Math.max(0, part.skip + part.frames - offset));
        const frames = Math.max(0, end - silent);
        const size = frames * part.frameBytes;
        decodeFrames(bytes.subarray(at, at + size), part, frames, this.pages.get(p)![m]!, silent);
        at += size;
      }
    });
    while (this.pages.size > pagesKept) this.pages.delete(this.pages.keys().next().value!);
  }

  /** Copies loaded frames of one channel; what is not there is silence. */
  read(mic: number, channel: number, from: number, count: number, out: Float32Array, to: number): void {
    const end = from + count;
    const whole = this.wholes.get(mic)?.[channel];
    if (whole) {
      out.fill(0, to, to + count);
      const first = Math.max(0, from);
      const last = Math.min(whole.length, end);
      if (last > first) out.set(whole.subarray(first, last), to + first - from);
      return;
    }
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
