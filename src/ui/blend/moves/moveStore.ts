import { create } from "zustand";

interface Moves {
  /** Points of the chosen fader are drawn on the song line. */
  readonly drawing: boolean;
  /** A fader that is moved while the song plays is written. */
  readonly writing: boolean;
  /** The fader that is written now, with where it is, dB. */
  readonly ridden: { readonly id: string; readonly level: number } | null;
}

/** How the faders' ways over the song are worked on; no part of the song. */
export const useMoves = create<Moves>()(() => ({ drawing: false, writing: false, ridden: null }));
