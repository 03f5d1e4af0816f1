import { isDrum, mainMic, type Mic, type Piece } from "../song/song";

/** Mics by which the drums are told apart: those of the drums and the overheads. */
export const observes = ({ piece, silent }: Pick<Mic, "piece" | "silent">): boolean =>
  !silent && (isDrum(piece) || piece === "overhead");

/** The channel that hears a drum best: that of its main mic, or the first overhead; null without either. */
export function anchorOf(
  mics: readonly Mic[],
  piece: Piece,
): { readonly mic: number; readonly channel: 0 } | null {
  const main = mainMic(mics, piece) ?? mics.find((m) => m.piece === "overhead" && !m.silent);
  return main ? { mic: mics.indexOf(main), channel: 0 } : null;
}
