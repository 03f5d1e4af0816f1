import type { LevelCurve } from "../measure/spectrum";
import { powerToDb } from "../signal/level";
import type { Piece } from "../song/song";

/** Parts of a drum's sound, dB each: the lows of its fundamental, the box above, the stick, and the air over all. */
export interface Balance {
  readonly weight: number;
  readonly box: number;
  readonly stick: number;
  readonly air: number;
}
export type BalanceBand = keyof Balance;
export const balanceBands: readonly BalanceBand[] = ["weight", "box", "stick", "air"];

/** Where the parts of a drum lie, Hz. Source  common practice, no source. */
export function bandsOf(
  piece: Piece,
  fundamental: number,
): Readonly<Record<BalanceBand, readonly [number, number]>> {
  const weight = [fundamental / 2 ** (1 / 3), fundamental * 2 ** (1 / 3)] as const;
  const air = [7500, 16000] as const;
  if (piece === "kick") return { weight, box: [300, 600], stick: [4000, 8000], air };
  if (piece === "snare") return { weight, box: [400, 900], stick: [3000, 5000], air };
  return { weight, box: [Math.max(300, 2.5 * fundamental), 700], stick: [3000, 6000], air };
}

/** Middle of a band, where an EQ takes hold, Hz. */
export const middleOf = ([from, to]: readonly [number, number]): number => Math.round(Math.sqrt(from * to));

/** Levels of the parts against the whole, dB. Shape  a curve of power by band, twelve an octave. */
export function balanceOf({ frequencies, levels }: LevelCurve, bands: ReturnType<typeof bandsOf>): Balance {
  const power = (from: number, to: number): number => {
    let sum = 0;
    for (let i = 0; i < levels.length; i++)
      if (frequencies[i]! >= from && frequencies[i]! <= to) sum += 10 ** (levels[i]! / 10);
    return sum;
  };
  const whole = power(0, Infinity);
  const part = ([from, to]: readonly [number, number]) => powerToDb(power(from, to) / Math.max(whole, 1e-30));
  return { weight: part(bands.weight), box: part(bands.box), stick: part(bands.stick), air: part(bands.air) };
}
