import { mkdirSync, rmSync } from "node:fs";
import { basename, join } from "node:path";
import { checkKit, remainderDb, type Delivered } from "../../core/deliver/checks";
import { checkDelivery, deliveredFrames, timeReferenceOf, type Delivery } from "../../core/deliver/delivery";
import { gainToTarget, type TargetGain } from "../../core/deliver/loudnessTarget";
import {
  memoryReader,
  renderSong,
  type RenderOptions,
  type RenderSink,
  type SongReader,
} from "../../core/engine/renderSong";
import { responses, responsesOf } from "../../core/engine/responses";
import { asRendered } from "../../core/engine/asRendered";
import { measureAudio } from "../../core/measure/measureAudio";
import { peakOf } from "../../core/signal/level";
import { isFree } from "../../core/song/chain";
import { kitOf } from "../../core/song/graph";
import { isLayer, type Song } from "../../core/song/song";
import type { FlacFile } from "../audio/flacFile";
import { keepAudio, type KeptAudio } from "../audio/keptAudio";
import { WavFile } from "../audio/wavFile";
import { BusSum } from "./busSum";
import { outputFiles } from "./outputFiles";
import { broughtTo, finishFile, isPlain, fileFor, type Finish } from "./finishFile";
import { threadedRunner } from "./threads";

/** Reads a mic of the song as it was recorded, whole. */
export type WholeMic = (index: number) => readonly Float32Array[] | Promise<readonly Float32Array[]>;

/** `progress` also tells what is done now. */
type RenderFilesOptions = Omit<RenderOptions, "progress"> & {
  readonly threads?: number;
  readonly whole?: WholeMic;
  readonly progress?: (share: number, doing: string) => void;
};

export interface Rendered {
  /** In the order of writing, the kit first. */
  readonly paths: string[];
  readonly delivered: Delivered;
}

/** Share of the work that is the render itself, where files are finished behind it. */
const renderShare = 0.8;

/** Brings the impulse responses of a song to its processors. */
async function takeResponses(song: Song, whole: WholeMic | undefined): Promise<void> {
  responses.clear();
  for (const mic of whole ? responsesOf(song) : [])
    responses.putAudio(mic.id, await whole!(song.mics.indexOf(mic)), song.sampleRate);
}

/** A layer reads here and there in its file, which is short: it is held whole. */
async function withLayers(song: Song, reader: SongReader, whole: WholeMic | undefined): Promise<SongReader> {
  const files = new Map<number, SongReader>();
  for (const [m, mic] of song.mics.entries())
    if (whole && isLayer(mic)) files.set(m, memoryReader([await whole(m)]));
  return (m, channel) => files.get(m)?.(0, channel) ?? reader(m, channel);
}

/** What goes straight to the kit sums up to it where nothing is done there; says what stands in the way. */
function sumWhy(song: Song, { buses }: Delivery): string {
  const kit = kitOf(song);
  if (!buses) return "the buses are not delivered";
  const straight = song.mics.filter(
    (m) => m.output === kit.id && m.piece !== "context" && m.piece !== "response",
  );
  if (straight.length > 0) return `${straight.length} mics go straight to the kit`;
  if (kit.chain.some((p) => p.on && isFree(p)) || kit.level !== 0 || kit.pan !== 0 || kit.width !== 100)
    return "the kit's own chain, fader or width is at work";
  return "";
}

/** Buses that go straight to the kit, as a render names them. */
const straightBuses = (song: Song): string[] =>
  song.buses.filter((b) => b.output === kitOf(song).id).map((b) => `bus:${b.id}`);

/** Keeps the kit for its measures, and what its buses leave of it. */
class KitKeeper {
  /** `straight`: buses that go straight to the kit; null: they are not summed. */
  constructor(
    readonly kept: KeptAudio,
    private readonly sum: BusSum | null,
  ) {}
  static async open(frames: number, straight: readonly string[] | null, folder: string): Promise<KitKeeper> {
    const sum = straight && new BusSum(["kit", ...straight]);
    return new KitKeeper(await keepAudio(2, frames, folder), sum);
  }
  take(name: string, channels: readonly Float32Array[]): void {
    if (name === "kit") this.kept.take(channels);
    this.sum?.take(name, name === "kit" ? -1 : 1, channels);
  }
  /** What the buses leave of the kit, dB against its largest sample; null: they are not summed. */
  get sumDb(): number | null {
    return this.sum && remainderDb(this.sum.peak, Math.max(...this.kept.channels.map((x) => peakOf(x))));
  }
}

/** Time reference of a song's frame; null where no file has one. */
function timeReferenceAt(song: Song, frame: number): number | null {
  const reference = timeReferenceOf(song);
  return reference === null ? null : reference + frame;
}

/** Folders of what is delivered; the raw one holds what is finished behind the render. */
function makeFolders(folder: string, { stems, buses }: Delivery, raw: string | null): void {
  mkdirSync(folder, { recursive: true });
  if (stems) mkdirSync(join(folder, "stems"), { recursive: true });
  if (buses) mkdirSync(join(folder, "buses"), { recursive: true });
  if (raw) mkdirSync(raw, { recursive: true });
}

/** A file that is written while the song is rendered. */
interface OpenFile {
  readonly file: WavFile | FlacFile;
  /** Where it lies until it is finished. */
  readonly raw: string;
  /** Frames of the render that have passed. */
  at: number;
}

/** Takes what is rendered into its files, and what is needed of it for the measures; frames [from, to) of the song. */
function sinkInto(
  files: ReadonlyMap<string, OpenFile>,
  keeper: KitKeeper,
  from: number,
  to: number,
): RenderSink {
  return (name, channels, frames) => {
    const open = files.get(name);
    if (!open) return;
    const [first, last] = [Math.max(0, from - open.at), Math.min(frames, to - open.at)];
    open.at += frames;
    if (last <= first) return;
    const cut = channels.map((x) => x.subarray(first, last));
    keeper.take(name, cut);
    open.file.write(cut, last - first);
  };
}

/** What was kept of the kit, measured as it is delivered. */
async function measuredKit(
  { kept, sumDb }: KitKeeper,
  gain: TargetGain,
  sampleRate: number,
  why: string,
  folder: string,
): Promise<Delivered> {
  const finished = await broughtTo(gain, kept.channels, sampleRate, folder);
  try {
    return {
      kit: measureAudio(finished.channels, sampleRate),
      checks: checkKit(finished.channels, sampleRate),
      gain,
      sumDb,
      sumWhy: why,
    };
  } finally {
    await finished.close();
  }
}

/**
 * Renders what is asked for of a song into files: the kit, stems/ and buses/, all of one first frame and one length. A file appears
 * only when it is whole; what was begun goes when it breaks off, and files that were there before stay.
 * Errors  RangeError for what cannot be delivered; those of reading and writing.
 */
export async function renderFiles(
  song: Song,
  reader: SongReader,
  folder: string,
  delivery: Delivery,
  { threads, whole, progress = () => {}, ...options }: RenderFilesOptions = {},
): Promise<Rendered> {
  checkDelivery(song, delivery);
  const { sampleRate } = song;
  const { from, to } = deliveredFrames(song, delivery);
  const outputs = outputFiles(song, folder, delivery);
  const rawFolder = join(folder, ".raw");
  const plain = isPlain(delivery);
  makeFolders(folder, delivery, plain ? null : rawFolder);
  const timeReference = timeReferenceAt(song, from);
  const finishOf = (path: string): Finish => ({ path, delivery, sampleRate, timeReference });
  const open = (path: string, raw: string, channels: number): WavFile | FlacFile =>
    plain
      ? fileFor(finishOf(path), channels, to - from)
      : new WavFile(raw, "wav32f", channels, sampleRate, to - from);
  const why = sumWhy(song, delivery);
  const files = new Map<string, OpenFile>();
  let keeper: KitKeeper | null = null;
  try {
    keeper = await KitKeeper.open(to - from, why === "" ? straightBuses(song) : null, folder);
    await takeResponses(song, whole);
    for (const [name, { path, channels }] of outputs) {
      const raw = join(rawFolder, `${files.size}.wav`);
      files.set(name, { file: open(path, raw, channels), raw, at: 0 });
    }
    const written = asRendered({ ...song, frames: Math.max(song.frames, to) });
    const doing = files.size === 1 ? "the kit" : `${files.size} files in one pass`;
    await renderSong(
      written,
      await withLayers(song, reader, whole),
      { kit: true, stems: delivery.stems, buses: delivery.buses },
      sinkInto(files, keeper, from, to),
      {
        runner: threadedRunner(written, threads),
        progress: (share) => progress(share * (plain ? 1 : renderShare), doing),
        ...options,
      },
    );
    for (const { file } of files.values()) file.close();
    keeper.kept.end();
    const plainKit = measureAudio(keeper.kept.channels, sampleRate);
    const gain = gainToTarget(plainKit, delivery.target, delivery.limit);
    const delivered = await measuredKit(keeper, gain, sampleRate, why, folder);
    let done = 0;
    for (const [name, { raw }] of plain ? [] : files) {
      const { path } = outputs.get(name)!;
      // All by the same gain, so that they still sum; the kit alone is limited.
      await finishFile(raw, finishOf(path), { ...gain, limits: gain.limits && name === "kit" });
      const share = renderShare + ((1 - renderShare) * ++done) / files.size;
      progress(share, `finishing ${basename(path)}, ${done} of ${files.size}`);
    }
    return { paths: [...outputs.values()].map((o) => o.path), delivered };
  } catch (error) {
    for (const { file } of files.values()) file.abandon();
    throw error;
  } finally {
    await keeper?.kept.close();
    rmSync(rawFolder, { recursive: true, force: true });
  }
}
