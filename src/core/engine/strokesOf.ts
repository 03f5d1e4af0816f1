import { firstOf } from "../song/create";
import { isLayer, type Mic, type Piece, type Song } from "../song/song";
import { cutsOf, cutsOfMic, cutTime, sameCuts } from "./cuts";
import { placedStrokes } from "./oneShots/placeStrokes";
import { hitFrames } from "./timeline";

/** Frames by which a drum's hits reach a mic late, its own delay included. */
export const hitsLate = (mic: Mic): number =>
  mic.lateBy + ((firstOf(mic, "delay")?.params["delay"] as number | undefined) ?? 0);

/** Strokes of a mic's drum as they come into its chain, song frames. */
export function hitsOf(song: Song, mic: Mic): Float64Array {
  if (isLayer(mic)) return Float64Array.from(placedStrokes(song, mic), (p) => p.on + hitsLate(mic)).sort();
  const cuts = cutsOfMic(song, mic);
  const playedAt = (t: number) => cutTime(cuts, t, song.sampleRate);
  return hitFrames(song.hits, mic.piece, playedAt, song.sampleRate, hitsLate(mic));
}

/** Strokes of a drum that has no mic of its own, as the kit's cuts move them, song frames: they were found in a loop. null: none. */
export function hitsInLoop(song: Song, piece: Piece | null): Float64Array {
  if (piece === null) return new Float64Array(0);
  const playedAt = (t: number) => cutTime([song.edits], t, song.sampleRate);
  return hitFrames(song.hits, piece, playedAt, song.sampleRate, 0);
}

/** Beats of the song in frames, from the first of the first full bar on. */
export const beatsOf = ({ tempo, sampleRate }: Song): Float64Array =>
  tempo ? Float64Array.from(tempo.beats.slice(tempo.pickUp), (t) => t * sampleRate) : new Float64Array(0);

/**
 * Says whether a mic's strokes come otherwise than in the song before, so that `hitsOf` must be told again; undefined: those of a drum without
 * a mic.
 */
export function strokesMoved(before: Song | null, song: Song): (mic: Mic | undefined) => boolean {
  if (before?.hits !== song.hits || !sameCuts(cutsOf(before), cutsOf(song))) return () => true;
  const old = new Map(before.mics.map((m) => [m.id, m]));
  return (mic) => {
    if (!mic) return false;
    const last = old.get(mic.id);
    if (isLayer(mic) && (!last || !isLayer(last) || placedStrokes(song, mic) !== placedStrokes(before, last)))
      return true;
    return last?.piece !== mic.piece || hitsLate(last) !== hitsLate(mic);
  };
}
