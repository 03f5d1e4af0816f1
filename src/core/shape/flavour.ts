import { isShell, type Flavour, type Piece } from "../song/song";
import type { Balance } from "./balance";

/** What a flavour wants of a drum. */
export interface Wanted {
  /** By band, dB: what is added to a drum that is balanced as most are. */
  readonly tone: Balance;
  readonly compressor: {
    readonly ratio: number;
    readonly attack: number;
    readonly release: number;
    readonly wishedDb: number;
  };
  /** Peaks that are rounded off at the same loudness, dB; 0: none. */
  readonly rounded: number;
}

/**
 * Source  common practice, no source: modern takes mids out and lifts lows and stick, vintage keeps the mids and rounds, natural does
 *         little. Kick 4:1 (3 softer), 5 ms, 150-200 ms, 7-8 dB; snare 3-6 dB.
 */
export function wantedOf(flavour: Flavour, piece: Piece): Wanted {
  const kick = piece === "kick";
  const snare = piece === "snare";
  if (flavour === "modern")
    return {
      tone: kick
        ? { weight: 3, box: -5, stick: 4, air: 0 }
        : snare
          ? { weight: 2.5, box: -1.5, stick: 2.5, air: 1.5 }
          : { weight: 3, box: -5, stick: 3, air: 0 },
      compressor: kick
        ? { ratio: 4, attack: 0.005, release: 0.15, wishedDb: 7 }
        : snare
          ? { ratio: 4, attack: 0.002, release: 0.1, wishedDb: 4 }
          : { ratio: 3, attack: 0.008, release: 0.12, wishedDb: 4 },
      rounded: snare ? 3 : 0,
    };
  if (flavour === "vintage")
    return {
      tone: { weight: 1.5, box: 0, stick: 1, air: -2 },
      compressor: { ratio: 3, attack: kick ? 0.01 : 0.006, release: 0.2, wishedDb: kick ? 5 : 3.5 },
      rounded: isShell(piece) ? 4 : 0,
    };
  return {
    tone: { weight: 1, box: -2, stick: 1, air: 0 },
    compressor: { ratio: 2, attack: 0.01, release: 0.15, wishedDb: 2 },
    rounded: 0,
  };
}
