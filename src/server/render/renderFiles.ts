import { mkdirSync, rmSync } from "node:fs";
import { basename, join } from "node:path";
import { checkKit, remainderDb, type Delivered } from "../../core/deliver/checks";
import { checkDelivery, deliveredFrames, timeReferenceOf, type Delivery } from "../../core/deliver/delivery";
import { gainToTarget, peakCeiling, type TargetGain } from "../../core/deliver/loudnessTarget";
import { memoryReader, renderSong, type RenderOptions, type SongReader } from "../../core/engine/renderSong";
import { processChain } from "../../core/engine/processChain";
import { responses, responsesOf } from "../../core/engine/responses";
import { asRendered } from "../../core/engine/asRendered";
import { measureAudio } from "../../core/measure/measureAudio";
import { dbToGain, peakOf } from "../../core/signal/level";
import { newProcessor } from "../../core/song/create";
import { isFree } from "../../core/song/chain";
import { kitOf } from "../../core/song/graph";
import { isLayer, type Song } from "../../core/song/song";
import { WavFile } from "../audio/wavFile";
import { outputFiles } from "./outputFiles";
import { finishFile, isPlain, plainFile, type Finish } from "./rawFile";
import { threadedRunner } from "./threads";

/** Reads a mic of the song as it was recorded, whole. */
export type WholeMic = (index: number) => Float32Array[] | Promise<Float32Array[]>;

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

const largestOf = (channels: readonly Float32Array[]): number => Math.max(...channels.map((x) => peakOf(x)));

/** Keeps the kit for its measures, and what its buses leave of it. */
class KitKeeper {
  readonly kit: Float32Array[];
  private readonly left: Float32Array[] | null;
  constructor(frames: number, sums: boolean) {
    const pair = () => [new Float32Array(frames), new Float32Array(frames)];
    this.kit = pair();
    this.left = sums ? pair() : null;
  }
  take(name: string, at: number, channels: readonly Float32Array[], intoKit: boolean): void {
    if (name === "kit") channels.forEach((x, ch) => this.kit[ch]!.set(x, at));
    if (!this.left || !(name === "kit" || intoKit)) return;
    const sign = name === "kit" ? -1 : 1;
    channels.forEach((x, ch) => x.forEach((v, i) => (this.left![ch]![at + i]! += sign * v)));
  }
  get sumDb(): number | null {
    return this.left && remainderDb(largestOf(this.left), largestOf(this.kit));
  }
}

/** The kit or another file brought to the target: all by the same gain, so that they still sum; the kit alone limited. */
const changed =
  ({ gainDb, limits }: TargetGain, isKit: boolean, sampleRate: number) =>
  (channels: Float32Array[]): Float32Array[] => {
    const gain = dbToGain(gainDb);
    if (gainDb !== 0) for (const x of channels) for (let i = 0; i < x.length; i++) x[i]! *= gain;
    if (!isKit || !limits) return channels;
    return processChain(
      [newProcessor("kit", "limiter", true, { ceiling: peakCeiling })],
      channels,
      sampleRate,
    );
  };

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
  const { from, to } = deliveredFrames(song, delivery);
  const outputs = outputFiles(song, folder, delivery);
  const rawFolder = join(folder, ".raw");
  mkdirSync(folder, { recursive: true });
  if (delivery.stems) mkdirSync(join(folder, "stems"), { recursive: true });
  if (delivery.buses) mkdirSync(join(folder, "buses"), { recursive: true });
  const plain = isPlain(delivery);
  if (!plain) mkdirSync(rawFolder, { recursive: true });
  const { sampleRate } = song;
  const reference = timeReferenceOf(song);
  const finishOf = (path: string): Finish => ({
    path,
    delivery,
    sampleRate,
    timeReference: reference === null ? null : reference + from,
  });
  const why = sumWhy(song, delivery);
  const keeper = new KitKeeper(to - from, why === "");
  const straight = new Set(song.buses.filter((b) => b.output === kitOf(song).id).map((b) => `bus:${b.id}`));
  const files = new Map<string, { file: WavFile; raw: string; at: number }>();
  try {
    await takeResponses(song, whole);
    const read = await withLayers(song, reader, whole);
    for (const [name, { path, channels }] of outputs) {
      const raw = join(rawFolder, `${files.size}.wav`);
      const file = plain
        ? plainFile(finishOf(path), channels, to - from)
        : new WavFile(raw, "wav32f", channels, sampleRate, to - from);
      files.set(name, { file, raw, at: 0 });
    }
    const written = asRendered({ ...song, frames: Math.max(song.frames, to) });
    const all = files.size === 1 ? "the kit" : `${files.size} files in one pass`;
    const rendered = { kit: true, stems: delivery.stems, buses: delivery.buses };
    await renderSong(
      written,
      read,
      rendered,
      (name, channels, frames) => {
        const open = files.get(name);
        if (!open) return;
        const [first, last] = [Math.max(0, from - open.at), Math.min(frames, to - open.at)];
        open.at += frames;
        if (last <= first) return;
        const cut = channels.map((x) => x.subarray(first, last));
        keeper.take(name, open.at - frames + first - from, cut, straight.has(name));
        open.file.write(cut, last - first);
      },
      {
        runner: threadedRunner(written, threads),
        progress: (share) => progress(share * (plain ? 1 : renderShare), all),
        ...options,
      },
    );
    for (const { file } of files.values()) file.close();
    const gain = gainToTarget(measureAudio(keeper.kit, sampleRate), delivery.target, delivery.limit);
    const { sumDb } = keeper;
    const kit = changed(gain, true, sampleRate)(keeper.kit);
    let done = 0;
    for (const [name, { raw }] of plain ? [] : files) {
      await finishFile(raw, finishOf(outputs.get(name)!.path), changed(gain, name === "kit", sampleRate));
      done++;
      progress(
        renderShare + ((1 - renderShare) * done) / files.size,
        `finishing ${basename(outputs.get(name)!.path)}, ${done} of ${files.size}`,
      );
    }
    const delivered = {
      kit: measureAudio(kit, sampleRate),
      checks: checkKit(kit, sampleRate),
      gain,
      sumDb,
      sumWhy: why,
    };
    return { paths: [...outputs.values()].map((o) => o.path), delivered };
  } catch (error) {
    for (const { file } of files.values()) file.abandon();
    throw error;
  } finally {
    rmSync(rawFolder, { recursive: true, force: true });
  }
}
