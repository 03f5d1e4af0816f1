import type { Piece } from "../song/song";
import { isCymbal } from "./ownBands";

/** Excess at which an event is as likely a stroke as not, dB. */
export const hitExcess = (piece: Piece): number =>
  isCymbal(piece) ? 3.5 : piece === "kick" || piece === "snare" ? 7.5 : 8.5;
/** How sure a stroke is by its excess, 0..1: 10 dB more are ten times the odds. */
export const sureOf = (piece: Piece, excess: number): number =>
  1 / (1 + 10 ** ((hitExcess(piece) - excess) / 10));
