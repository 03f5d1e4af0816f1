import { cancelStretch } from "../clean/cancelStretch";
import { isDrum, mainMic, type Mic, type Piece, type Song } from "../song/song";
import { averageShot } from "./averageShot";
import { captureOneShots, type CapturedShot } from "./captureOneShots";
import type { ShotAudio } from "./joinShots";

/** All mics as recorded over a stretch, and the drum whose strokes are wanted. */
export interface CaptureAsk {
  readonly song: Song;
  readonly drum: Piece;
  /** Song frame at which the stretch begins. */
  readonly from: number;
  /** [mic][channel]. */
  readonly stretch: readonly (readonly Float32Array[])[];
}

/** A mic that is asked what else is struck: of another drum, or far from all. */
const tells = (mic: Mic, drum: Piece): boolean =>
  mic.layer === undefined &&
  !mic.silent &&
  mic.piece !== drum &&
  (isDrum(mic.piece) || mic.piece === "overhead");

/**
 * One-shots of a drum from its main mic, behind Cancel where that is on: its cleanest strokes, their average, and its cleanest ghost notes where
 * it has some.
 * Errors  RangeError in words when the drum has no mic of its own or no stroke stands alone.
 */
export function captureFromSong({ song, drum, from, stretch }: CaptureAsk): ShotAudio[] {
  const main = mainMic(song.mics, drum);
  if (!main) throw new RangeError("the drum has no mic of its own");
  const m = song.mics.indexOf(main);
  const cancels = main.chain.some((p) => p.type === "cancel" && p.on);
  const mic = cancels ? cancelStretch(song, stretch, from)[m]! : stretch[m]!;
  const others = song.mics.flatMap((o, i) => (tells(o, drum) ? [stretch[i]![0]!] : []));
  const start = from / song.sampleRate;
  const hits = song.hits
    .map((h) => ({ ...h, time: h.time - start }))
    .filter((h) => h.time >= 0 && h.time * song.sampleRate < stretch[m]![0]!.length);
  const shots = captureOneShots(mic, others, hits, drum, song.sampleRate);
  const many = captureOneShots(mic, others, hits, drum, song.sampleRate, { count: averaged });
  const at = (time: number): string => `at ${(time + start).toFixed(2)} s`;
  const named = shots.map((s) => shotOf(s, `Stroke ${at(s.time)}`));
  const average = { ...shotOf(averageShot(many, song.sampleRate), `Average of ${many.length}`), on: false };
  return [
    ...named,
    ...(many.length > 1 ? [average] : []),
    ...ghostsOf(mic, others, hits, drum, song.sampleRate, at),
  ];
}

const shotOf = ({ time: _, ...shot }: CapturedShot, name: string): ShotAudio => ({ ...shot, name, on: true });

/** Strokes that are averaged at most, and ghost notes that are offered. */
const averaged = 24;
const ghostNotes = 3;

function ghostsOf(
  mic: readonly Float32Array[],
  others: readonly Float32Array[],
  hits: Song["hits"],
  drum: Piece,
  sampleRate: number,
  at: (time: number) => string,
): ShotAudio[] {
  try {
    const ghosts = captureOneShots(mic, others, hits, drum, sampleRate, { count: ghostNotes, ghosts: true });
    return ghosts.map((s) => shotOf(s, `Ghost note ${at(s.time)}`));
  } catch (error) {
    if (error instanceof RangeError) return []; // none stands alone
    throw error;
  }
}
