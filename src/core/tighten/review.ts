import type { Edit, Piece, Section, Tempo, TightenSettings, Hit } from "../song/song";
import { planMoves } from "./moves";

/** One move as it is looked at: a group of strokes, how far it goes, and the joint that leads to it. */
export interface Reviewed {
  /** As played, s. */
  readonly time: number;
  /** Where it is heard, s. */
  readonly playedAt: number;
  readonly pieces: readonly Piece[];
  /** How far it is moved, s; positive later. */
  readonly shift: number;
  /** Worst jump of the joints between the group before and this one, dB; null: no joint, or none measured. */
  readonly jumpDb: number | null;
  /** The more, the sooner it should be listened to. */
  readonly risk: number;
}

/** A move of so many seconds is as risky as a jump of one dB: our own weighing. */
const secondsPerDb = 0.012;

/**
 * The groups that were moved, the riskiest first: far moves, and joints whose spectrum jumps more than the material does.
 * Shape   `edits` as they were planned from the other arguments.
 */
export function reviewMoves(
  hits: readonly Hit[],
  tempo: Tempo | null,
  settings: TightenSettings,
  sections: readonly Section[],
  edits: readonly Edit[],
  sampleRate: number,
): Reviewed[] {
  let next = 0;
  return planMoves(hits, tempo, settings, sections)
    .map(({ group }): Reviewed => {
      let jumpDb: number | null = null;
      // Joints up to where the group's first stroke begins lead to it.
      for (; next < edits.length && edits[next]!.at - edits[next]!.shift <= group.from * sampleRate; next++) {
        const jump = edits[next]!.jumpDb;
        if (jump !== null) jumpDb = Math.max(jumpDb ?? -Infinity, jump);
      }
      const frames = next > 0 ? edits[next - 1]!.shift : 0;
      const shift = frames / sampleRate;
      return {
        time: group.time,
        playedAt: group.time + shift,
        pieces: [...new Set(group.leads.map((h) => h.piece))],
        shift,
        jumpDb,
        risk: Math.abs(shift) / secondsPerDb + Math.max(0, jumpDb ?? 0),
      };
    })
    .filter((r) => r.shift !== 0 || r.jumpDb !== null)
    .sort((a, b) => b.risk - a.risk);
}
