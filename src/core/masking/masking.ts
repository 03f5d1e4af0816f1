import { median } from "../signal/level";
import { bandCentres } from "./excitation";

/** Excitation of both at one stroke, dB, one value a band. */
export interface Heard {
  /** When it is, song s. */
  readonly time: number;
  readonly of: readonly number[];
  readonly by: readonly number[];
}

/** Loudness grows with this power of excitation. */
const alpha = 0.2;
/** A sound is at its threshold in another where it is this share of its excitation: -4 dB. */
const threshold = 0.4;
/** How quickly a masker's share of the loudness is lost above that. */
const release = 0.3;
/** Bands so much weaker than a stroke's strongest are not counted: nothing of them is missed, dB. */
const counted = 40;

const specific = (db: number): number => 10 ** ((alpha * db) / 10);

/**
 * What a sound keeps of its loudness in one band beside another, 0..1; excitations in dB.
 * Source  partial specific loudness far above the threshold in quiet: Moore, Glasberg, Baer, J. Audio Eng. Soc. 45, 1997, eq. 18
 *         (from memory), (S + N)^a - ((1 + K) N)^a (K N / S)^0.3, against S^a. K is 0.4 over the whole range; below 500 Hz theirs
 *         rises, so that low sounds are covered sooner than this says.
 */
export const kept = (of: number, by: number): number => {
  const other = 10 ** ((by - of) / 10);
  const share = (1 + other) ** alpha - ((1 + threshold) * other) ** alpha * (threshold * other) ** release;
  return Math.min(1, Math.max(0, share));
};

/** How much a sound keeps beside another. */
export interface Kept {
  /** Of the loudness of one stroke, 0..1. */
  readonly whole: number;
  /** By band, 0..1; 1 where it has nothing to lose. */
  readonly bands: readonly number[];
  /** What each band is of its loudness; they sum to 1. */
  readonly shares: readonly number[];
}

/** What a sound keeps at one stroke, band by band as much as each counts unchanged. `change`: dB that are added to both. */
export function keptAt({ of, by }: Heard, change: Changes = none): Kept {
  const own = of.map((db, b) => db + change.of(b));
  const other = by.map((db, b) => db + change.by(b));
  const floor = Math.max(...of) - counted;
  const weights = of.map((db) => (db > floor ? specific(db) : 0));
  const sum = weights.reduce((a, b) => a + b, 0);
  const bands = own.map((db, b) => (weights[b]! > 0 ? kept(db, other[b]!) : 1));
  const whole = bands.reduce((a, k, b) => a + k * weights[b]!, 0) / sum;
  return { whole, bands, shares: weights.map((w) => w / sum) };
}

/** dB by band that something would change. */
export interface Changes {
  of(band: number): number;
  by(band: number): number;
}
const none: Changes = { of: () => 0, by: () => 0 };

/** What a sound keeps over all its strokes: middle of the strokes, and by band the mean of those to which it counts. */
export function keptOver(heard: readonly Heard[], change: Changes = none): Kept {
  const each = heard.map((h) => keptAt(h, change));
  const mean = (of: (k: Kept) => readonly number[]) => (b: number) =>
    each.reduce((sum, k) => sum + of(k)[b]!, 0) / each.length;
  return {
    whole: median(each.map((k) => k.whole)),
    bands: bandCentres.map((_, b) => {
      const weight = each.reduce((sum, k) => sum + k.shares[b]!, 0);
      return weight > 0 ? each.reduce((sum, k) => sum + k.shares[b]! * k.bands[b]!, 0) / weight : 1;
    }),
    shares: bandCentres.map((_, b) => mean((k) => k.shares)(b)),
  };
}

/** The other way round: what covers, beside what it covers, at the same moments. */
export const turnedRound = (heard: readonly Heard[]): Heard[] =>
  heard.map(({ time, of, by }) => ({ time, of: by, by: of }));
