import { uniqueName } from "../file/uniqueName";
import { isMic, kitOf, type Owner } from "../song/graph";
import { inKitOrder } from "../song/kitOrder";
import { isKitMic, type Song } from "../song/song";
import { deliveredFrames, type Delivery } from "./delivery";
import { fileName, type NameParts } from "./fileNames";

/** One file of a render. */
export interface Output {
  /** What the render calls it: "kit", or "stem:" and "bus:" with the id. */
  readonly id: string;
  /** Folder below that of the render; none for the kit. */
  readonly folder: "" | "stems" | "buses";
  readonly file: string;
  readonly channels: number;
  /** What it holds: the kit, a bus, or a mic after its chain. */
  readonly of: Owner;
}

/** Longest name of a file without its ending, in characters: with the ending it fits every usual file system. */
const longestName = 120;

/** File name that is safe on every system; never empty, no name of a device, no dot or space at its end. */
const safe = (name: string): string => {
  const plain = name
    .replace(/[\\/:*?"<>|\p{Cc}]+/gu, "-")
    .slice(0, longestName)
    .replace(/[. ]+$/u, "")
    .trim();
  return plain === "" ? "unnamed" : /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(plain) ? `${plain}-` : plain;
};

const withoutEnding = (file: string): string => file.replace(/(.)\.[^.]*$/s, "$1");

/** Mics whose stems are written, in the order of the kit: the kit's own that are played, and all others where one wishes them. */
const stemsOf = (song: Song, { beside }: Delivery) =>
  inKitOrder(song.mics).filter((m) => beside || (isKitMic(song, m) && !m.unplayed && !m.silent));

/**
 * Files of a render: the kit, stems and buses, every one with a name of its own by the pattern of the delivery and the ending of what is
 * written, whatever came in. The kit stands as the kit, not among the buses.
 * Errors  RangeError for a pattern that cannot be used.
 */
export function outputsOf(song: Song, delivery: Delivery): Output[] {
  const ending = delivery.format === "flac" ? ".flac" : ".wav";
  const outputs: Output[] = [];
  const common = {
    song: song.title,
    section: song.sections.find((s) => s.id === delivery.section)?.name ?? "",
    rate: `${(delivery.sampleRate ?? song.sampleRate) / 1000} kHz`,
  };
  const put = (
    of: Output["of"],
    folder: Output["folder"],
    id: string,
    own: Pick<NameParts, "kind" | "name">,
  ): void => {
    const others = outputs.filter((o) => o.folder === folder).map((o) => o.file);
    const number = String(outputs.length + 1).padStart(2, "0");
    const name = safe(fileName(delivery.names, { ...common, ...own, number })) + ending;
    const channels = isMic(of) ? of.channels : 2;
    outputs.push({ id, folder, file: uniqueName(name, others), channels, of });
  };
  put(kitOf(song), "", "kit", { kind: "", name: "kit" });
  if (delivery.stems)
    for (const m of stemsOf(song, delivery))
      put(m, "stems", `stem:${m.id}`, { kind: "stem", name: withoutEnding(m.file) });
  if (delivery.buses)
    for (const b of song.buses)
      if (b.output !== null) put(b, "buses", `bus:${b.id}`, { kind: "bus", name: b.name });
  return outputs;
}

/** Bytes of a sample; FLAC's are known when it is written. */
const sampleBytes = { wav16: 2, wav24: 3, wav32f: 4, flac: null } as const;

/** How long the files of a render are, s, and how much room all of them take, bytes; null: not known before they are written. */
export function sizeOfOutputs(song: Song, delivery: Delivery): { seconds: number; bytes: number | null } {
  const { from, to } = deliveredFrames(song, delivery);
  const seconds = (to - from) / song.sampleRate;
  const each = sampleBytes[delivery.format];
  const frames = Math.round(seconds * (delivery.sampleRate ?? song.sampleRate));
  const channels = outputsOf(song, delivery).reduce((sum, o) => sum + o.channels, 0);
  return { seconds, bytes: each && frames * channels * each };
}
