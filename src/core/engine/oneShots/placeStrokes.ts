import { firstOf } from "../../song/create";
import { isLayer, type LayerMic } from "../../song/layer";
import { mainMic, type Layer, type LayerStroke, type Mic, type Piece, type Song } from "../../song/song";
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
  readonly gain: number;
  /** The last frames fade out. */
  readonly fade: number;
}

/** Strokes nearer to each other than this are one, s. */
const sameStroke = 0.003;

/** Strokes that a layer plays, ascending. */
export const strokesOfLayer = ({ hits }: Pick<Song, "hits">, { drum, strokes }: Layer): LayerStroke[] =>
  (strokes ?? hits.filter((h) => h.piece === drum))
    .map(({ time, levelDb, ghost }) => ({ time, levelDb, ghost }))
    .sort((a, b) => a.time - b.time);

/** By stroke, frames by which it is played beside its place; one that was not measured gets what lies in the middle of the others. */
function shiftsFor({ shifts }: Layer): (time: number) => number {
  if (shifts.length === 0) return () => 0;
  const sorted = [...shifts].sort((a, b) => a.time - b.time);
  const usual = sorted.map((s) => s.frames).sort((a, b) => a - b)[Math.floor(sorted.length / 2)]!;
  let next = 0;
  return (time) => {
    while (next < sorted.length && sorted[next]!.time < time - sameStroke) next++;
    const near = sorted[next];
    return near && Math.abs(near.time - time) <= sameStroke ? near.frames : usual;
  };
}

/** The mic in whose time the strokes of a drum are told; undefined where it has none. */
export const mainOf = ({ mics }: Song, drum: Piece): Mic | undefined =>
  mainMic(
    mics.filter((m) => !isLayer(m)),
    drum,
  );
const delayOf = (mic: Mic | undefined): number =>
  (mic && (firstOf(mic, "delay")?.params["delay"] as number | undefined)) ?? 0;

/** Where the strokes of a layer's drum are heard: by the cuts and the delay of its main mic. */
function heardAt(song: Song, { drum }: Layer, tightened: boolean): (time: number) => number {
  const main = mainOf(song, drum);
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
  const shift = shiftsFor(layer);
  const sounds = chooseSounds(layer, strokesOfLayer(song, layer)).map(({ stroke, sound, gain }) => {
    const on = Math.round(place(stroke.time)) + shift(stroke.time);
    return { at: on - sound.onset, on, ghost: stroke.ghost, sound, gain };
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
  const main = mainOf(song, mic.layer.drum);
  const stands = [song.hits, song.edits, main?.ownEdits, delayOf(main), song.sampleRate];
  const before = known.get(mic.layer);
  if (before && before.stands.every((s, i) => s === stands[i])) return before.placed;
  const placed = placeStrokes(song, mic);
  known.set(mic.layer, { stands, placed });
  return placed;
}
