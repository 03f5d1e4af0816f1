import { median } from "../../signal/level";
import { firstOf } from "../../song/create";
import {
  mainMic,
  type Layer,
  type LayerMic,
  type LayerShift,
  type LayerStroke,
  type Mic,
  type Song,
} from "../../song/song";
import { cutsOfMic, cutTime } from "../cuts";
import { chooseSounds } from "./chooseSounds";

/** A sound as it is played, frames. */
export interface PlacedSound {
  /** Song frame of its first frame, and where it lies in the file. */
  readonly at: number;
  /** Song frame of its transient. */
  readonly on: number;
  /** It plays a ghost note. */
  readonly ghost: boolean;
  readonly from: number;
  readonly frames: number;
  /** Negative: turned over. */
  readonly gain: number;
  /** The last frames fade out. */
  readonly fade: number;
}

/** Strokes nearer to each other than this are one, s. */
const sameStroke = 0.003;

/** Strokes that a layer plays, ascending. */
const strokesOfLayer = ({ hits }: Pick<Song, "hits">, { drum, strokes }: Layer): LayerStroke[] =>
  (strokes ?? hits.filter((h) => h.piece === drum))
    .map(({ time, levelDb, ghost }) => ({ time, levelDb, ghost }))
    .sort((a, b) => a.time - b.time);

/** When a layer plays: its strokes without those that it leaves out, ascending, s. */
export const playedTimes = (song: Pick<Song, "hits">, layer: Layer): number[] =>
  strokesOfLayer(song, layer)
    .filter((s) => !s.ghost || layer.ghosts !== "leave")
    .map((s) => s.time);

/** How a stroke is played beside its place. */
export type LayerPlace = Omit<Required<LayerShift>, "time">;
/** By stroke, how it is played beside its place; one that was not measured as far as lies in the middle of the others, and not turned. */
export function shiftsOf({ shifts }: Pick<Layer, "shifts">): (time: number) => LayerPlace {
  const usual: LayerPlace = {
    frames: shifts.length > 0 ? Math.round(median(shifts.map((s) => s.frames))) : 0,
    turned: false,
  };
  const slot = (time: number): number => Math.round(time / sameStroke);
  const near = new Map(shifts.map((s) => [slot(s.time), s]));
  return (time) => {
    const found = [-1, 0, 1].map((d) => near.get(slot(time) + d));
    const measured = found.find((s) => s && Math.abs(s.time - time) <= sameStroke);
    return measured ? { frames: measured.frames, turned: measured.turned === true } : usual;
  };
}

const delayOf = (mic: Mic | undefined): number =>
  (mic && (firstOf(mic, "delay")?.params["delay"] as number | undefined)) ?? 0;

/** Where the strokes of a layer's drum are heard: by the cuts and the delay of its main mic. */
function heardAt(song: Song, { drum }: Layer, tightened: boolean): (time: number) => number {
  const main = mainMic(song.mics, drum);
  const cuts = !tightened ? [] : main ? cutsOfMic(song, main) : [song.edits];
  const delay = tightened ? delayOf(main) : 0;
  return (time) => cutTime(cuts, time, song.sampleRate) * song.sampleRate + delay;
}

/**
 * The sounds of a layer as they are played, ascending. `tightened`: where the strokes are heard; otherwise where they were played.
 */
export function placeStrokes(song: Song, { layer }: LayerMic, tightened = true): PlacedSound[] {
  const { sampleRate } = song;
  const place = heardAt(song, layer, tightened);
  const shift = shiftsOf(layer);
  const sounds = chooseSounds(layer, strokesOfLayer(song, layer)).map(({ stroke, sound, gain }) => {
    const { frames, turned } = shift(stroke.time);
    const on = Math.round(place(stroke.time)) + frames;
    return { at: on - sound.onset, on, ghost: stroke.ghost, sound, gain: turned ? -gain : gain };
  });
  sounds.sort((a, b) => a.at - b.at);
  const fade = Math.max(1, Math.round(layer.fade * sampleRate));
  return sounds.map(({ at, on, ghost, sound, gain }, i): PlacedSound => {
    const next = sounds[i + 1];
    const until = layer.ringsOn || !next ? sound.frames : Math.min(sound.frames, next.on + fade - at);
    return {
      at,
      on,
      ghost,
      from: sound.from,
      frames: Math.max(1, until),
      gain,
      fade: Math.min(fade, Math.max(1, until)),
    };
  });
}

/** What was last placed of a layer: a song that is told anew with the same strokes places nothing anew. */
const known = new WeakMap<Layer, { readonly stands: readonly unknown[]; readonly placed: PlacedSound[] }>();

/** As `placeStrokes`, the same list as long as nothing that it hangs on has changed. */
export function placedStrokes(song: Song, mic: LayerMic): readonly PlacedSound[] {
  const main = mainMic(song.mics, mic.layer.drum);
  const stands = [song.hits, song.edits, main?.ownEdits, delayOf(main), song.sampleRate];
  const before = known.get(mic.layer);
  if (before && before.stands.every((s, i) => s === stands[i])) return before.placed;
  const placed = placeStrokes(song, mic);
  known.set(mic.layer, { stands, placed });
  return placed;
}
