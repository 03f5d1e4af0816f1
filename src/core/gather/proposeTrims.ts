import type { Facts } from "../facts/facts";
import type { Proposal } from "../song/proposal";
import { signed, usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { median } from "../signal/level";
import { isDrum, type Piece, type Song } from "../song/song";

/** Peak that leaves room, dBFS: strokes of close mics; far mics stay lower (common practice: -10). */
const trimTarget: Partial<Record<Piece, number>> = {
  hat: -18,
  ride: -17,
  crash: -17,
  overhead: -12,
  room: -16,
};

/** Trims that bring the strokes of every mic to a level that leaves room. */
export function proposeTrims(song: Song, facts: Facts): Proposal[] {
  return song.mics
    .filter((m) => usable(m) && (isDrum(m.piece) || m.piece === "overhead" || m.piece === "room"))
    .map((m) => {
      const strokes = facts.levels[m.id]?.hits ?? [];
      // Over the strokes and not over one click; a second mic of a drum supports the first.
      const level = strokes.length > 0 ? median(strokes) : m.peakDbfs;
      const target = (trimTarget[m.piece] ?? -10) - (m.reference ? 4 : 0);
      const gain = Math.round(Math.max(-30, Math.min(30, target - level)) * 10) / 10;
      return {
        id: `trim:${m.id}`,
        step: "gather" as const,
        owner: m.id,
        sentence: `Bring the strokes of ${m.file} to −${-target} dBFS.`,
        figure: `${signed(gain)} dB`,
        operation: putProcessor(m, "trim", { gain }),
      };
    });
}
