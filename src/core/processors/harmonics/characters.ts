import { designBell, designShelf, type Section } from "../../signal/biquad";
import * as rows from "./rows";
import { bendHard, bendRounded, bendSoft } from "../saturation/saturation";

/** How a sound is bent, apart from how much: what odd and even harmonics it adds, and of which tone. */
export interface Character {
  /** What the bend adds: its odd part beyond the sound itself, and an even part. Slope 1 at rest, so that soft sounds add nothing. */
  odd(x: number): number;
  even(x: number): number;
  /** Which bend it is. */
  readonly name: "soft" | "rounded" | "hard" | "folded" | "one-sided";
  /** Share of the even part that always comes along: 1 where the bend itself is lopsided. */
  readonly lopsided: 0 | 1;
  /** Shelf into the bend, dB, that is taken back behind it: what is lifted is bent first. Null: none. */
  readonly lifts: { readonly side: "low" | "high"; readonly frequency: number; readonly gain: number } | null;
  /** Bell over the low end, dB, whether or not anything is bent. */
  readonly bump: number;
}

/** An odd bend: x bend(x) is even, since it is a product of two odd functions. */
const bent = (name: Character["name"], bend: (x: number) => number): Character => ({
  name,
  odd: (x) => bend(x) - x,
  even: (x) => 0.5 * x * bend(x),
  lopsided: 0,
  lifts: null,
  bump: 0,
});

/**
 * Low-heavy bends lows first; tape-like lets highs go the louder they are, bends softly and lifts the low end a little.
 * Source  behaviours; figures are common practice, no source.
 */
export const characters = {
  soft: bent("soft", bendSoft),
  rounded: bent("rounded", bendRounded),
  hard: bent("hard", (x) => bendHard((8 / 15) * x)),
  folded: bent("folded", Math.sin),
  // One half of the wave is bent: half of what is taken off is odd, half even.
  "one-sided": {
    ...bent("one-sided", bendSoft),
    odd: (x) => 0.5 * (bendSoft(x) - x),
    even: (x) => 0.5 * (bendSoft(Math.abs(x)) - Math.abs(x)),
    lopsided: 1,
  },
  "low-heavy": { ...bent("soft", bendSoft), lifts: { side: "low", frequency: 250, gain: 9 } },
  "tape-like": {
    ...bent("rounded", bendRounded),
    lifts: { side: "high", frequency: 4000, gain: 9 },
    bump: 1.5,
  },
} as const satisfies Record<string, Character>;
export type CharacterName = keyof typeof characters;

/** Middle of the low bump, Hz, and of the tone before the bend. */
const [bumpAt, toneAt] = [70, 1000];

/** Filters before the bend and behind it, which undo each other; `tone`: lifts highs (above zero) or lows into it, dB. */
export function emphasis(
  name: CharacterName,
  tone: number,
  rate: number,
): { before: Section[]; behind: Section[] } {
  const { lifts }: Character = characters[name];
  // A shelf of the Cookbook with the opposite gain is its inverse: numerator and denominator change places.
  const shelves = (sign: 1 | -1): Section[] => [
    ...(lifts ? [designShelf(lifts.side, lifts.frequency, sign * lifts.gain, Math.SQRT1_2, rate)] : []),
    ...(tone !== 0 ? [designShelf(tone > 0 ? "high" : "low", toneAt, sign * Math.abs(tone), 0.5, rate)] : []),
  ];
  return { before: shelves(1), behind: shelves(-1) };
}
export const bumpOf = (name: CharacterName, rate: number): Section[] => {
  const { bump }: Character = characters[name];
  return bump === 0 ? [] : [designBell(bumpAt, bump, 0.7, rate)];
};

/** Bits by which the kernel knows which bends it must compute; the soft one it always does. */
export const bendBits = {
  soft: rows.OF_HARMONICS,
  rounded: rows.OF_HARMONICS | rows.BEND_ROUNDED,
  hard: rows.OF_HARMONICS | rows.BEND_HARD,
  folded: rows.OF_HARMONICS | rows.BEND_FOLDED,
  "one-sided": rows.OF_HARMONICS | rows.BEND_ONE_SIDED,
  squared: rows.OF_HARMONICS | rows.BEND_ROUNDED | rows.BEND_SQUARED,
} as const;
