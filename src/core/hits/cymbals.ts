import { median, quantile } from "../signal/level";
import type { Hit, Piece } from "../song/song";
import type { BandEnergies } from "./bandEnergies";

/** Band in which a cymbal rings, and when its ring is compared with its stroke, s. */
const ringBand = 5;
const ringAfter = 0.12;
/** A closed hat has lost more than this by then, dB; ride and crash less. */
const choked = -14;
/** A crash stands this far over the typical stroke of the others, dB. */
const crashOver = 5;
/** Peak in the overheads under which nothing is a crash, dBFS. */
const crashLevel = -24;

const loudest = (hits: readonly Hit[]): Hit[] => {
  const most = hits.reduce((top, h) => Math.max(top, h.levelDb), -Infinity);
  return hits.filter((h) => h.levelDb > most - crashOver && most > crashLevel);
};

/** dB that a stroke has lost in the highest band after some hundredths of a second. */
function ringOf(hit: Hit, energies: BandEnergies): number {
  const e = energies.energy[ringBand]!;
  const at = Math.round(hit.time / energies.hop);
  const after = at + Math.round(ringAfter / energies.hop);
  let stroke = 1e-14;
  for (let t = at; t < Math.min(e.length, at + 6); t++) stroke = Math.max(stroke, e[t]!);
  const ring = median(Array.from(e.subarray(after, after + 8)));
  return 10 * Math.log10((Number.isFinite(ring) ? ring + 1e-14 : 1e-14) / stroke);
}

/**
 * Strokes that only the overheads hear, given to the cymbals that have no mic of their own: what is short is the hat, what
 * stands out of the long ones is a crash, the rest the ride.
 * Shape   `missing`: hat, ride, crash without a mic; one of them takes everything.
 */
export function nameCymbals(found: readonly Hit[], energies: BandEnergies, missing: readonly Piece[]): Hit[] {
  // A crash that covers a cymbal's own mic is not told from it there: only what stands far out is believed.
  const hits = missing.length > 1 || missing[0] !== "crash" ? found : loudest(found);
  const rings = hits.map((h) => ringOf(h, energies));
  const long = hits.filter((_, i) => rings[i]! > choked).map((h) => h.levelDb);
  const loud = long.length > 0 ? quantile(long, 0.4) + crashOver : Infinity;
  const pieceOf = (h: Hit, ring: number): Piece => {
    const wanted: Piece = ring <= choked ? "hat" : h.levelDb > loud ? "crash" : "ride";
    return missing.includes(wanted) ? wanted : missing[missing.length - 1]!;
  };
  return hits.map((h, i) => ({ ...h, piece: pieceOf(h, rings[i]!) }));
}
