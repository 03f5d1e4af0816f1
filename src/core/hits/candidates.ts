import type { Piece } from "../song/song";
import { usualLevel, type BandEnergies } from "./bandEnergies";
import { ownBands } from "./ownBands";

/** An instant at which the energy in a drum's main mic rises: a stroke, or what other drums bring into it. */
export interface Candidate {
  readonly column: number;
  /** Energy that came in, [band], in the mic itself. */
  readonly own: Float64Array;
  /** The same at that instant in every mic, [mic][band]. */
  readonly all: readonly Float64Array[];
  /** How far it stands over what the others' strokes bring, dB. */
  excess: number;
}

/** Energy that comes in around a column: what follows less what was there before. */
function increment(e: Float32Array, column: number, from: number, to: number): number {
  let before = 0;
  let after = 0;
  for (let t = Math.max(0, column - 6); t < column - 2; t++) before = Math.max(before, e[t]!);
  for (let t = Math.max(0, column + from); t <= Math.min(e.length - 1, column + to); t++)
    after = Math.max(after, e[t]!);
  return Math.max(0, after - 1.5 * before);
}

/** Columns at which a mic's energy rises sharply in one of its bands; peaks of the rise, at least 8 ms apart. */
function findRises(b: BandEnergies, own: readonly number[], least: number): number[] {
  const floor = own.map((k) => Math.max(usualLevel(b.energy[k]!, 0.2), 1e-13));
  const rise = new Float32Array(b.columns);
  for (let t = 4; t < b.columns; t++) {
    let best = 0;
    own.forEach((k, i) => {
      const e = b.energy[k]!;
      const now = e[t]! + floor[i]!;
      const past = Math.max(e[t - 3]!, e[t - 4]!) + floor[i]!;
      best = Math.max(best, 10 * Math.log10(now / past));
    });
    rise[t] = best;
  }
  const gap = Math.round(0.008 / b.hop);
  const found: number[] = [];
  for (let t = 4; t < b.columns - 1; t++) {
    if (rise[t]! < least || rise[t]! < rise[t - 1]! || rise[t]! <= rise[t + 1]!) continue;
    const last = found[found.length - 1];
    if (last !== undefined && t - last < gap) {
      if (rise[t]! > rise[last]!) found[found.length - 1] = t;
    } else found.push(t);
  }
  return found;
}

/** Rise in dB from which an instant is looked at; strokes on a cymbal that rings rise less. */
const leastRise = (piece: Piece): number => (piece === "ride" || piece === "crash" ? 3 : 5);

/** Candidates of one mic, with the energies that come into all mics at each. */
export function findCandidates(piece: Piece, mic: number, energies: readonly BandEnergies[]): Candidate[] {
  const own = ownBands(piece);
  return findRises(energies[mic]!, [...own.body, ...own.attack], leastRise(piece)).map((column) => {
    const all = energies.map((e, other) =>
      Float64Array.from(e.energy, (x) =>
        other === mic ? increment(x, column, -1, 3) : increment(x, column, -2, 4),
      ),
    );
    return { column, own: all[mic]!, all, excess: 0 };
  });
}
