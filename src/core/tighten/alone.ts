import { editedTime } from "../engine/timeline";
import type { Operation } from "../song/operations";
import {
  isDrum,
  type Edit,
  type Hit,
  type Mic,
  type Piece,
  type Section,
  type Song,
  type Tempo,
  type TightenSettings,
} from "../song/song";
import type { PieceEvents } from "../hits/events";
import { median } from "../signal/level";
import { seamsOf, type Seam } from "./joints";
import { joinSeams, type Material } from "./material";
import { planMoves } from "./moves";

/**
 * Where a drum's own mics are cut alone, so that its strokes go to the grid beyond what the kit's cuts do to them.
 * Shape   `kit`: the cuts of the whole kit; seams in the mics' recorded time, to be read under them.
 */
export function seamsOfDrum(
  piece: Piece,
  hits: readonly Hit[],
  tempo: Tempo | null,
  settings: TightenSettings,
  sections: readonly Section[],
  kit: readonly Edit[],
  sampleRate: number,
): Seam[] {
  const own = hits.filter((h) => h.piece === piece);
  const moves = planMoves(own, tempo, { ...settings, leaders: [piece], alone: [] }, sections);
  return seamsOf(
    moves.map((m) => {
      const { time } = m.group;
      const wanted = time + m.shift;
      let shift = m.shift;
      // The kit's cuts may move the place it comes to by another amount than the one it comes from.
      for (let round = 0; round < 3; round++) shift += wanted - editedTime(kit, time + shift, sampleRate);
      return { ...m, shift };
    }),
    sampleRate,
  );
}

/**
 * Cuts of the mics of drums that are moved alone, joined by their recordings; none any more where a drum goes with the
 * kit again.
 * Shape   the song with the kit's cuts in it; `materialOf` gives the recordings of some of its mics.
 */
export async function aloneOperations(
  song: Song,
  materialOf: (mics: readonly Mic[]) => Material | Promise<Material>,
): Promise<Operation[]> {
  const { hits, tempo, tighten, sections, edits, sampleRate } = song;
  const operations: Operation[] = [];
  for (const piece of new Set(song.mics.map((m) => m.piece).filter(isDrum))) {
    const mics = song.mics.filter((m) => m.piece === piece);
    const seams = tighten.alone.includes(piece)
      ? seamsOfDrum(piece, hits, tempo, tighten, sections, edits, sampleRate)
      : [];
    const ownEdits = seams.length > 0 ? await joinSeams(seams, await materialOf(mics), sampleRate) : [];
    for (const mic of mics)
      if (ownEdits.length > 0 || mic.ownEdits.length > 0)
        operations.push({ op: "setMic", mic: mic.id, values: { ownEdits } });
  }
  return operations;
}

/** What moving a drum alone does elsewhere. */
export interface AloneRisk {
  /** Furthest that its own mics leave the others, s. */
  readonly apart: number;
  /** The close mic of another drum that hears it loudest, and how loud against its own, dB; null: none is known. */
  readonly loudest: { readonly piece: Piece; readonly db: number } | null;
}

/** Events nearer than this are the same stroke in another mic, s. */
const sameStroke = 0.012;

/** How far a drum's mics leave the others, and who still hears it where it was played. */
export function riskOfAlone(
  piece: Piece,
  seams: readonly Seam[],
  hits: readonly Hit[],
  events: readonly PieceEvents[],
  sampleRate: number,
): AloneRisk {
  const apart = seams.reduce((most, s) => Math.max(most, Math.abs(s.after)), 0) / sampleRate;
  const own = hits.filter((h) => h.piece === piece && !h.ghost);
  const heard = events
    .filter((e) => e.piece !== piece)
    .flatMap((other) => {
      const played = hits.filter((h) => h.piece === other.piece);
      const levels = own.flatMap((h) => {
        if (played.some((p) => Math.abs(p.time - h.time) < 2 * sameStroke)) return [];
        const same = other.events.filter((e) => Math.abs(e.time - h.time) < sameStroke);
        return same.length > 0 ? [Math.max(...same.map((e) => e.levelDb)) - h.levelDb] : [];
      });
      return levels.length > 0 ? [{ piece: other.piece, db: median(levels) }] : [];
    });
  return { apart, loudest: heard.length > 0 ? heard.reduce((a, b) => (b.db > a.db ? b : a)) : null };
}
