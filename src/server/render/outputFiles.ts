import { join, parse } from "node:path";
import type { Delivery } from "../../core/deliver/delivery";
import { fileName, type NameParts } from "../../core/deliver/fileNames";
import { uniqueName } from "../../core/file/uniqueName";
import { inKitOrder } from "../../core/song/kitOrder";
import { isKitMic, type Song } from "../../core/song/song";

/** One file of a render: where it goes, and how wide it is. */
export interface OutputFile {
  readonly path: string;
  readonly channels: number;
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

/** Mics whose stems are written, in the order of the kit: the kit's own that are played, and all others where one wishes them. */
const stemsOf = (song: Song, { beside }: Delivery) =>
  inKitOrder(song.mics).filter((m) => beside || (isKitMic(song, m) && !m.unplayed && !m.silent));

/**
 * Files of a render by the name of its output: the kit, stems/ and buses/, every one with a path of its own by the pattern of the
 * delivery and the ending of what is written, whatever came in. The kit stands as the kit, not among the buses.
 * Errors  RangeError for a pattern that cannot be used.
 */
export function outputFiles(song: Song, folder: string, delivery: Delivery): Map<string, OutputFile> {
  const ending = delivery.format === "flac" ? ".flac" : ".wav";
  const outputs = new Map<string, OutputFile>();
  const rate = delivery.sampleRate ?? song.sampleRate;
  const common = {
    song: song.title,
    section: song.sections.find((s) => s.id === delivery.section)?.name ?? "",
    rate: `${rate / 1000} kHz`,
  };
  const taken: Record<string, string[]> = {};
  const put = (id: string, below: string, channels: number, own: Pick<NameParts, "kind" | "name">): void => {
    const others = (taken[below] ??= []);
    const number = String(outputs.size + 1).padStart(2, "0");
    const file = uniqueName(safe(fileName(delivery.names, { ...common, ...own, number })) + ending, others);
    others.push(file);
    outputs.set(id, { path: join(folder, below, file), channels });
  };
  put("kit", "", 2, { kind: "", name: "kit" });
  if (delivery.stems)
    for (const m of stemsOf(song, delivery))
      put(`stem:${m.id}`, "stems", m.channels, { kind: "stem", name: parse(m.file).name });
  if (delivery.buses)
    for (const b of song.buses)
      if (b.output !== null) put(`bus:${b.id}`, "buses", 2, { kind: "bus", name: b.name });
  return outputs;
}
