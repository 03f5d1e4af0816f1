import type { Facts, Tone } from "../facts/facts";
import { placeStrokes } from "../engine/oneShots/placeStrokes";
import {
  isDrum,
  isLayer,
  isShell,
  mainMic,
  type LayerMic,
  type Mic,
  type Piece,
  type Song,
} from "../song/song";
import { allBefore, isMic, needs, type Owner } from "../song/graph";

type Parts = Pick<Song, "mics" | "buses">;

/** Pieces whose mics a bus hears, as they stand in the song. */
export function piecesInto(song: Parts, bus: string): Piece[] {
  const asked = allBefore(bus, needs(song));
  const heard = song.mics.filter((m) => asked.has(m.id) && !m.muted);
  return [...new Set(heard.map((m) => m.piece))];
}

/**
 * Drums by whose strokes a mic or bus is judged: its own; of a group, of the kit and of far mics the shells among those it
 * hears, else all it hears.
 */
export function heardDrums(song: Parts, owner: Owner): Piece[] {
  if (isMic(owner) && isLayer(owner)) return [owner.layer.drum];
  if (owner.piece !== null && isDrum(owner.piece)) return [owner.piece];
  const heard = isMic(owner) ? [owner.piece] : piecesInto(song, owner.id);
  const near = heard.filter(isDrum);
  // Overheads and rooms hear the whole kit.
  const drums = near.length > 0 ? near : [...new Set(song.mics.map((m) => m.piece))].filter(isDrum);
  const shells = drums.filter(isShell);
  return shells.length > 0 ? shells : drums;
}

/** Frames by which strokes arrive late in a mic; a bus is judged as its drums' main mics are. */
export const lateIn = (owner: Owner): number => (isMic(owner) ? owner.lateBy : 0);

/** Strokes by which a mic or bus is judged as they arrive in it, ascending frames of the recording. */
export function strokesIn(song: Song, owner: Owner): { mains: number[]; all: number[] } {
  if (isMic(owner) && isLayer(owner)) return strokesOfMic(song, owner);
  const drums = heardDrums(song, owner);
  const struck = song.hits.filter((h) => drums.includes(h.piece)).sort((a, b) => a.time - b.time);
  const frame = (h: { time: number }) => h.time * song.sampleRate + lateIn(owner);
  return { mains: struck.filter((h) => !h.ghost).map(frame), all: struck.map(frame) };
}

/** Strokes that a layer plays, where they were played. */
function strokesOfMic(song: Song, mic: LayerMic): { mains: number[]; all: number[] } {
  const played = placeStrokes(song, mic, false);
  return { mains: played.filter((p) => !p.ghost).map((p) => p.on), all: played.map((p) => p.on) };
}

/** The mic that stands for a mic or bus: itself, or the main mic of the bus's drum; undefined for a bus of no drum. */
export const micOf = ({ mics }: Pick<Song, "mics">, owner: Owner): Mic | undefined =>
  isMic(owner) ? owner : owner.piece ? mainMic(mics, owner.piece) : undefined;

/** What was found of the own sound of a mic's or bus's drum. */
export function toneOf(song: Pick<Song, "mics">, facts: Pick<Facts, "tone">, owner: Owner): Tone | undefined {
  const mic = micOf(song, owner);
  return mic && facts.tone[mic.id];
}
