import type { Facts } from "../facts/facts";
import { pairGains } from "../facts/pairGains";
import type { Proposal } from "../song/proposal";
import { signed, usable } from "../song/proposalWords";
import { putProcessor } from "../song/putProcessor";
import { median } from "../signal/level";
import { isDrum, type Mic, type Piece, type Song } from "../song/song";

/** Peak that leaves room, dBFS: strokes of close mics; far mics stay lower (common practice: -10). */
const trimTarget: Partial<Record<Piece, number>> = {
  hat: -18,
  ride: -17,
  crash: -17,
  overhead: -12,
  room: -16,
};

/** Gain that brings a mic alone to its level, dB: over the strokes and not over one click; a second mic of a drum supports the first. */
function gainOf(m: Mic, facts: Facts): number {
  const strokes = facts.levels[m.id]?.hits ?? [];
  const level = strokes.length > 0 ? median(strokes) : m.peakDbfs;
  return targetOf(m) - level;
}
const targetOf = (m: Mic): number => (trimTarget[m.piece] ?? -10) - (m.reference ? 4 : 0);

/**
 * Trims that bring the strokes of every mic to a level that leaves room. The two sides of a pair are trimmed so that both hear the
 * snare and the kick alike, and neither comes over its level.
 */
export function proposeTrims(song: Song, facts: Facts): Proposal[] {
  const apart = pairGains(song.mics, facts);
  const mics = song.mics.filter(
    (m) => usable(m) && (isDrum(m.piece) || m.piece === "overhead" || m.piece === "room"),
  );
  return mics.map((m) => {
    const pair =
      apart[m.id] === undefined ? [m] : mics.filter((o) => o.piece === m.piece && apart[o.id] !== undefined);
    const shared = Math.min(...pair.map((o) => gainOf(o, facts) - (apart[o.id] ?? 0)));
    const gain = Math.round(Math.max(-30, Math.min(30, shared + (apart[m.id] ?? 0))) * 10) / 10;
    return {
      id: `trim:${m.id}`,
      step: "gather" as const,
      owner: m.id,
      sentence:
        pair.length > 1
          ? `Trim ${m.file} so that both sides hear the snare and the kick alike, at −${-targetOf(m)} dBFS at most.`
          : `Bring the strokes of ${m.file} to −${-targetOf(m)} dBFS.`,
      figure: `${signed(gain)} dB`,
      operation: putProcessor(m, "trim", { gain }),
    };
  });
}
