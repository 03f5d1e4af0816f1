import { quantile } from "../../signal/level";
import { bands, incoming, type EnergiesHere } from "../bandEnergies";

/** When the ring of a cymbal is heard behind its stroke, and what it is compared with before, s. */
const soon = [0.05, 0.15] as const;
const late = [0.15, 0.45] as const;
const before = [-0.25, -0.025] as const;
/** Of what is heard then a low quantile tells: other strokes lie in between. */
const usually = 0.3;
/** Every so many columns are enough. */
const sparse = 3;

const decibels = (power: number): number => 10 * Math.log10(power + 1e-14);

function level(e: Float32Array, column: number, [from, to]: readonly [number, number], hop: number): number {
  const heard: number[] = [];
  const last = Math.min(e.length, column + Math.round(to / hop));
  for (let t = Math.max(0, column + Math.round(from / hop)); t < last; t += sparse) heard.push(e[t]!);
  return heard.length === 0 ? -140 : decibels(quantile(heard, usually));
}

/** How something rings that is struck at an instant, dB: the names of the values are `ringNames`. */
export const ringNames = ["soon4", "soon5", "late4", "late5", "choke4", "choke5", "tilt3", "tilt5"] as const;

/**
 * How much louder two bands of cymbals stay behind an instant than before it, how far they sink against the stroke itself, and how
 * the bands that come in compare. A crash rings for seconds, a closed hat is over at once, drums leave nothing here.
 */
export function ringing({ energy, hop }: EnergiesHere, column: number): number[] {
  const [rises, lates, chokes]: [number[], number[], number[]] = [[], [], []];
  for (const b of [bands - 2, bands - 1]) {
    const e = energy[b]!;
    const was = level(e, column, before, hop);
    const rings = level(e, column, soon, hop);
    let peak = 1e-14;
    for (let t = Math.max(0, column - 1); t < Math.min(e.length, column + 5); t++)
      peak = Math.max(peak, e[t]!);
    rises.push(rings - was);
    lates.push(level(e, column, late, hop) - was);
    chokes.push(rings - decibels(peak));
  }
  const comes = [bands - 3, bands - 2, bands - 1].map((b) =>
    decibels(incoming(energy[b]!, column, -1, 5, 1.2)),
  );
  return [...rises, ...lates, ...chokes, comes[0]! - comes[1]!, comes[2]! - comes[1]!];
}
