import { heardTogether } from "../engine/heardTogether";
import { hitsLate } from "../engine/strokesOf";
import { gainToDb, peakOf } from "../signal/level";
import { lateIn, strokesIn } from "../shape/heardDrums";
import { keyOf } from "./keyDown";
import { isMic, nameOf, ownerOf, type Owner } from "../song/graph";
import type { Song } from "../song/song";
import { excitation, maskedSeconds } from "./excitation";
import type { Heard } from "./masking";
import { proposeMove, type MirroredMove } from "./moves";

/** Two mics or buses, by id, over a stretch of all mics as recorded from a song frame on. */
export interface MaskingAsk {
  readonly song: Song;
  readonly of: string;
  readonly by: string;
  readonly from: number;
  readonly stretch: readonly (readonly Float32Array[])[];
}
/** Where one covers the other. */
export interface MaskingMeasured {
  /** Cut and lift that bring most back; null: none is worth it. */
  readonly move: MirroredMove | null;
  readonly heard: readonly Heard[];
  /** Peaks at each stroke of what keys it down as its detector hears them, dBFS. */
  readonly keyLevels: readonly number[];
  /** They are strokes of a drum, and not moments at even distances. */
  readonly strokes: boolean;
}

/** Distance of moments where nothing is struck, s. */
const apart = 0.25;
/** A moment counts when it is not more than this below the loudest one, dB. */
const quiet = 30;
/** Below this nothing sounds, dBFS. */
const nothing = -90;
/** More than this is not looked at. */
const most = 120;

/** Moments of the kit's time, frames of the song, at which a sound is looked at: its strokes, or where it sounds. */
function moments(song: Song, owner: Owner, sound: readonly Float32Array[], from: number) {
  const last = sound[0]!.length - maskedSeconds * song.sampleRate;
  const late = lateIn(owner);
  const within = (f: number) => f >= from && f < from + last;
  const struck = strokesIn(song, owner)
    .mains.map((f) => f - late)
    .filter(within);
  if (owner.piece !== "context" && struck.length > 0) return { at: struck.slice(0, most), strokes: true };
  const step = apart * song.sampleRate;
  const even = Array.from({ length: Math.floor(last / step) }, (_, i) => i * step);
  const loud = even.map((at) => peakIn(sound, at, song.sampleRate));
  const top = Math.max(...loud);
  const sounds = even.filter((_, i) => loud[i]! > top - quiet && top > nothing);
  return { at: sounds.slice(0, most).map((f) => from + f), strokes: false };
}

/** Frames by which a stroke stands later in what an owner gives than in its drum's main mic. */
const lateBehind = (owner: Owner): number => (isMic(owner) ? hitsLate(owner) : 0);

/** Largest sample from a frame on, dBFS. */
function peakIn(channels: readonly Float32Array[], from: number, sampleRate: number): number {
  const begin = Math.max(0, Math.round(from));
  const end = begin + Math.round(maskedSeconds * sampleRate);
  return gainToDb(Math.max(...channels.map((x) => peakOf(x, begin, Math.min(end, x.length)))));
}

/**
 * Excitation of two mics or buses at the strokes of the first, both as they go on behind their faders.
 * Errors  RangeError in words where one is not there, is the kit, or gives nothing.
 */
export function measureMasking({ song, of, by, from, stretch }: MaskingAsk): MaskingMeasured {
  const { sampleRate } = song;
  const [first, second] = [ownerOf(song, of), ownerOf(song, by)];
  const key = first && second && keyOf(song, first, second);
  // A mic's detector hears another mic as it was recorded.
  const raw = key && isMic(key) && isMic(second) ? key : null;
  const ids = [of, by, ...(key && !raw ? [key.id] : [])];
  const [own, other, keying] = heardTogether(song, ids, stretch, from);
  for (const [sound, owner] of [
    [own!, first!],
    [other!, second!],
  ] as const)
    if (sound.every((x) => x.every((v) => v === 0)))
      throw new RangeError(`${nameOf(owner)} gives nothing here: it is muted or silent`);
  const { at, strokes } = moments(song, first!, own!, from);
  if (at.length === 0) throw new RangeError(`${nameOf(first!)} has no strokes here`);
  const rounded = (x: Float64Array) => Array.from(x, (v) => Math.round(10 * v) / 10);
  const keyed = raw ? stretch[song.mics.findIndex((m) => m.id === raw.id)]! : (keying ?? own!);
  const keyLate = raw ? raw.lateBy : lateBehind(key ?? first!);
  // Its detector hears a bus, or a mic that a bus listens to, before the fader.
  const fader = !raw && key ? key.level : 0;
  const late = lateBehind(first!);
  const heard = at.map((frame): Heard => ({
    time: frame / sampleRate,
    of: rounded(excitation(own!, frame + late - from, sampleRate)),
    by: rounded(excitation(other!, frame + late - from, sampleRate)),
  }));
  return {
    heard,
    move: proposeMove(heard, sampleRate),
    keyLevels: at.map(
      (frame) => Math.round(10 * (peakIn(keyed, frame + keyLate - from, sampleRate) - fader)) / 10,
    ),
    strokes,
  };
}
