import type { WriteFormat } from "../file/wavWrite";
import { processorType } from "../processors";
import type { Song } from "../song/song";
import { fileName, usualPattern } from "./fileNames";

export type FileFormat = WriteFormat | "flac";
export const fileFormats: readonly FileFormat[] = ["wav16", "wav24", "wav32f", "flac"];

/** What a delivered kit is brought to: integrated loudness (ITU-R BS.1770, EBU R 128) or true peak. */
export const targets = {
  none: { label: "as it is", kind: "none", value: 0 },
  lufs14: { label: "−14 LUFS, integrated", kind: "loudness", value: -14 },
  lufs23: { label: "−23 LUFS, EBU R 128", kind: "loudness", value: -23 },
  peak1: { label: "−1 dBTP, true peak", kind: "peak", value: -1 },
} as const;
export type Target = keyof typeof targets;
export const dithers = ["triangular", "shaped"] as const;
export type Dither = (typeof dithers)[number];
/** Sample rates that a song can be delivered at, Hz. */
export const deliveryRates = [44100, 48000, 88200, 96000, 176400, 192000] as const;
/** Longest tail behind the song, s. */
export const longestTail = 20;

/** What is delivered of a song, and how. */
export interface Delivery {
  /** Every mic after its chain. */
  readonly stems: boolean;
  readonly buses: boolean;
  /** Stems of music beside the kit, and of mics that are never played, too. */
  readonly beside: boolean;
  readonly format: FileFormat;
  /** Of 16 bit. */
  readonly dither: Dither;
  /** Hz; null: the song's. */
  readonly sampleRate: number | null;
  /** A section by id; null: the whole song. */
  readonly section: string | null;
  /** Pattern of the files' names. */
  readonly names: string;
  readonly target: Target;
  /** To reach a loudness the kit may be limited, at -1 dBTP; without that its peaks keep it below. */
  readonly limit: boolean;
  /** What is kept behind the last frame of the song, s. */
  readonly tail: number;
  /** Strokes and tempo as a MIDI file. */
  readonly midi: boolean;
}

/** Seconds for which the spaces of a song ring on: kept unless one says otherwise. */
export const usualTail = ({ buses, mics }: Pick<Song, "buses" | "mics">): number =>
  [...buses, ...mics].some(
    (o) => !o.muted && o.chain.some((p) => p.on && processorType(p.type).purpose === "space"),
  )
    ? 3
    : 0;

export const usualDelivery: Delivery = {
  stems: true,
  buses: false,
  beside: false,
  format: "wav24",
  dither: "triangular",
  sampleRate: null,
  section: null,
  names: usualPattern,
  target: "none",
  limit: false,
  tail: 0,
  midi: false,
};

/**
 * Checks what is asked for against the song. Errors  RangeError in words: a section that is not there, a rate, a pattern.
 */
export function checkDelivery(song: Song, delivery: Delivery): void {
  const { section, sampleRate, tail, names, format } = delivery;
  if (!fileFormats.includes(format))
    throw new RangeError(`Unknown format ${String(format)}; known: ${fileFormats.join(", ")}`);
  if (section !== null && !song.sections.some((s) => s.id === section))
    throw new RangeError(
      `the song has no section "${section}"; known: ${song.sections.map((s) => s.name).join(", ") || "none"}`,
    );
  if (sampleRate !== null && !(deliveryRates as readonly number[]).includes(sampleRate))
    throw new RangeError(`${sampleRate} Hz is no rate to deliver at; known: ${deliveryRates.join(", ")}`);
  if (!(tail >= 0 && tail <= longestTail))
    throw new RangeError(`a tail of ${tail} s; it must lie from 0 to ${longestTail}`);
  fileName(names, { song: "", name: "x", kind: "", number: "01", section: "", rate: "" });
}

/** Frames of the song [from, to) that are delivered; the tail comes behind the whole song only. */
export function deliveredFrames(song: Song, { section, tail }: Delivery): { from: number; to: number } {
  const found = song.sections.find((s) => s.id === section);
  const end = song.frames + Math.round(tail * song.sampleRate);
  if (!found) return { from: 0, to: end };
  const frame = (s: number) => Math.min(song.frames, Math.max(0, Math.round(s * song.sampleRate)));
  return { from: frame(found.from), to: Math.max(frame(found.from) + 1, frame(found.to)) };
}

/** Frames since midnight of the song's first frame, at the song's rate, as its recorder told it; null: none did. */
export function timeReferenceOf({ mics, sampleRate }: Song): number | null {
  const told = mics.flatMap((m) =>
    m.timeReference === null ? [] : [Math.round(m.timeReference * sampleRate) - m.start],
  );
  return told.length > 0 ? Math.max(0, Math.min(...told)) : null;
}
