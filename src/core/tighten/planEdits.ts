import type { Edit, Hit, Section, Tempo, TightenSettings } from "../song/song";
import { plainEdits, seamsOf, type Seam } from "./joints";
import { planMoves } from "./moves";

/** What a plan of cuts is made from. */
export interface Playing {
  readonly hits: readonly Hit[];
  readonly tempo: Tempo | null;
  readonly tighten: TightenSettings;
  readonly sections: readonly Section[];
  readonly sampleRate: number;
  /** Frames by which mics hear a drum after its main mic; negative ones must not be cut into. */
  readonly mics?: readonly { readonly lateBy: number }[];
}

/** Where the playing is cut, and by how much each side is moved. */
export function planSeams({ hits, tempo, tighten, sections, sampleRate, mics = [] }: Playing): Seam[] {
  const earliest = mics.reduce((most, m) => Math.max(most, -m.lateBy), 0) / sampleRate;
  return seamsOf(planMoves(hits, tempo, tighten, sections), sampleRate, Math.min(0.01, earliest));
}

/**
 * Cuts that move the playing towards the grid, all mics at the same instants by the same frames, made without a look at
 * the material; `joinSeams` chooses the joints by it.
 * Shape   edits ascending; empty at strength 0.
 */
export const planEdits = (playing: Playing): Edit[] => plainEdits(planSeams(playing), playing.sampleRate);
