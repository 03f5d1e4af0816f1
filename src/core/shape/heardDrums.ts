import { drumsInto } from "../engine/busInput";
import { isMic, type Owner } from "../song/graph";
import { isDrum, isShell, type Piece, type Song } from "../song/song";

/**
 * Drums by whose strokes a mic or bus is judged: its own; of a group, of the kit and of far mics the shells among those it
 * hears, else all it hears.
 */
export function heardDrums(song: Pick<Song, "mics" | "buses">, owner: Owner): Piece[] {
  if (owner.piece !== null && isDrum(owner.piece)) return [owner.piece];
  const heard = isMic(owner) ? [owner.piece] : drumsInto(song, owner.id);
  const near = heard.filter(isDrum);
  // Overheads and rooms hear the whole kit.
  const drums = near.length > 0 ? near : [...new Set(song.mics.map((m) => m.piece))].filter(isDrum);
  const shells = drums.filter(isShell);
  return shells.length > 0 ? shells : drums;
}
