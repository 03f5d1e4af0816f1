import type { Piece } from "../song/song";
import { isCymbal } from "./ownBands";

/** Excess at which an event is as likely a stroke as not, dB. */
export const evenExcess = (piece: Piece): number =>
  isCymbal(piece) ? 3.5 : piece === "kick" || piece === "snare" ? 7.5 : 8.5;
/**
 * Excess from which an event counts as a stroke, dB. Ghost notes and strokes on ringing cymbals are missed more often than
 * invented: there what is somewhat less likely than even is taken, so that as many are missed as are wrong.
 */
export const hitExcess = (piece: Piece): number =>
  evenExcess(piece) - (piece === "snare" || piece === "ride" || piece === "crash" ? 2.5 : 0);
/** How sure a stroke is by its excess, 0..1: 10 dB more are ten times the odds. */
export const sureOf = (piece: Piece, excess: number): number =>
  1 / (1 + 10 ** ((evenExcess(piece) - excess) / 10));
