import { energiesHere, incoming, type BandEnergies, type EnergiesHere } from "../hits/bandEnergies";
import { averageSpectrum, strongest } from "../measure/spectrum";
import { powerToDb, quantile } from "../signal/level";
import type { Samples } from "../signal/samples";

/** Columns on either side within which an event is the loudest: 32 ms. */
const apart = 12;
/** Share of the energy of the loudest events from which an event counts as loud: 5 dB. */
const loudShare = 0.3;
/** Events behind the very loudest that set what is loud, so that one knock on a stand does not. */
const outliers = 3;
/** Most events that are looked at closely. */
const lookedAt = 200;

/** What a file's loudest events are like, and how they are heard in the other files. */
export interface MicSound {
  /** Share of each band in the energy that comes in with loud events, dB. */
  readonly shares: readonly number[];
  /** Time until a loud event has fallen by 20 dB, median, s. */
  readonly decay: number;
  /** Loud events a second. */
  readonly rate: number;
  /** Strongest frequency of its loud events between 35 and 450 Hz. */
  readonly fundamental: number;
  /** How loud this file's loud events are in every file, dB under that file's own loud ones. */
  readonly heardIn: readonly number[];
  /** Columns of its loud events. */
  readonly events: readonly number[];
  readonly hopFrames: number;
  /** How differently its loud events are coloured: deviation of low against high bands, dB. One drum is alike, a room is not. */
  readonly varied: number;
  /** How much later than their own files this one hears the others' loud events, in the middle, s. */
  readonly late: number;
  /** Quietest tenth of the file under its loud events, dB: a mic never falls silent, a sample does. */
  readonly floorDb: number;
}

/** The loud events of a file. */
interface Events {
  /** Energy that comes in around every column, all bands. */
  readonly incoming: Float32Array;
  readonly loud: readonly number[];
  readonly loudEnergy: number;
  /** When half of what comes in with the first of them has come. */
  readonly halves: readonly number[];
}

const incomingAt = (e: Float32Array, column: number): number => incoming(e, column, -2, 4, 1.5);

function findEvents(energies: EnergiesHere): Events {
  const { columns, energy } = energies;
  const incoming = new Float32Array(columns);
  for (const e of energy) for (let t = 0; t < columns; t++) incoming[t]! += incomingAt(e, t);
  const peaks: number[] = [];
  for (let t = 0; t < columns; t++) {
    let largest = incoming[t]! > 0;
    for (let d = -apart; d <= apart && largest; d++) {
      const other = incoming[t + d] ?? 0;
      if (other > incoming[t]! || (other === incoming[t]! && d < 0)) largest = false;
    }
    if (largest) peaks.push(t);
  }
  const sorted = peaks.map((t) => incoming[t]!).sort((a, b) => b - a);
  const loudEnergy = sorted[Math.min(outliers, sorted.length - 1)] ?? 0;
  const loud = peaks.filter((t) => incoming[t]! > loudShare * loudEnergy);
  return { incoming, loud, loudEnergy, halves: loud.slice(0, askedEvents).map((t) => halfAt(energies, t)) };
}

const totalAt = ({ energy }: EnergiesHere, t: number): number =>
  energy.reduce((sum, e) => sum + (e[t] ?? 0), 0);

/** Columns until the energy has fallen by 20 dB from the peak behind an event. */
function decayColumns(e: EnergiesHere, event: number): number {
  let peak = 0;
  let at = event;
  for (let t = event; t < event + 8; t++) {
    const total = totalAt(e, t);
    if (total > peak) [peak, at] = [total, t];
  }
  let t = at;
  while (t < e.columns && t - at < 400 && totalAt(e, t) > 0.01 * peak) t++;
  return t - at;
}

const most = (list: readonly number[]): number[] => {
  const every = Math.max(1, list.length / lookedAt);
  return Array.from({ length: Math.min(list.length, lookedAt) }, (_, i) => list[Math.floor(i * every)]!);
};

/** Deviation of low against high bands over events, dB; 0 with fewer than two. */
function variationOf(energy: readonly Float32Array[], events: readonly number[]): number {
  const tilt = events.map((t) => {
    const [low, high] = [
      [0, 1, 2],
      [4, 5],
    ].map((list) => list.reduce((s, b) => s + incomingAt(energy[b]!, t), 1e-14));
    return powerToDb(low!) - powerToDb(high!);
  });
  if (tilt.length < 2) return 0;
  const mean = tilt.reduce((a, b) => a + b, 0) / tilt.length;
  return Math.sqrt(tilt.reduce((s, v) => s + (v - mean) ** 2, 0) / tilt.length);
}

/** Columns around another file's event in which this one may hear it, and how many events are asked. */
const reach = [-2, 10] as const;
const askedEvents = 60;

/** Columns behind an event at which half of what comes in around it has come. */
function halfAt({ energy }: EnergiesHere, event: number): number {
  const stepAt = (t: number): number =>
    energy.reduce((sum, x) => sum + Math.max(0, (x[t] ?? 0) - (x[t - 1] ?? 0)), 0);
  let total = 0;
  for (let d = reach[0]; d <= reach[1]; d++) total += stepAt(event + d);
  let sum = 0;
  for (let d = reach[0]; d <= reach[1]; d++) {
    const step = stepAt(event + d);
    if (sum + step >= 0.5 * total) return d + (0.5 * total - sum) / (step + 1e-20);
    sum += step;
  }
  return reach[1];
}

/** Columns by which that is later here than in the file whose events they are; in the middle of its events. */
function latenessOf(here: EnergiesHere, there: Events): number | null {
  if (there.halves.length < 3) return null;
  const sorted = there.halves.map((half, n) => halfAt(here, there.loud[n]!) - half).sort((a, b) => a - b);
  return sorted[sorted.length >> 1]!;
}

/**
 * Describes every file of a delivery by its loudest events.
 * Shape   one mono signal a file with its energies (bandEnergies), all from the song's first frame on. A silent file has no events.
 */
export function describeSounds(
  files: readonly Samples[],
  energies: readonly BandEnergies[],
  sampleRate: number,
): MicSound[] {
  // Energies that lie elsewhere come into memory a file at a time.
  const all = energies.map((e) => findEvents(energiesHere(e)));
  return all.map(({ loud, loudEnergy }, i): MicSound => {
    const here = energiesHere(energies[i]!);
    const { hop, hopFrames, columns, energy } = here;
    const events = most(loud);
    const shares = energy.map((e) => events.reduce((sum, t) => sum + incomingAt(e, t), 0));
    const total = shares.reduce((a, b) => a + b, 0);
    const cuts = events.map((t) =>
      files[i]!.subarray(t * hopFrames, t * hopFrames + Math.round(0.17 * sampleRate)),
    );
    const heardIn = all.map((other) => {
      const levels = events.map((t) => {
        let best = 0;
        for (let d = -2; d <= 3; d++) best = Math.max(best, other.incoming[t + d] ?? 0);
        return best;
      });
      return powerToDb(quantile(levels, 0.5) / (other.loudEnergy + 1e-20));
    });
    const lateness = all.flatMap((other, j) => (j === i ? [] : (latenessOf(here, other) ?? [])));
    const quiet = Float32Array.from({ length: columns }, (_, t) => totalAt(here, t));
    return {
      shares: shares.map((s) => powerToDb(s / (total + 1e-20))),
      decay:
        hop *
        quantile(
          events.map((t) => decayColumns(here, t)),
          0.5,
        ),
      rate: loud.length / Math.max(hop, columns * hop),
      fundamental: events.length > 0 ? strongest(averageSpectrum(cuts, sampleRate), 35, 450).frequency : 0,
      heardIn,
      events: loud,
      varied: variationOf(energy, events),
      late: lateness.length > 0 ? hop * quantile(lateness, 0.5) : 0,
      hopFrames,
      floorDb: powerToDb(quantile(quiet, 0.1) / (loudEnergy + 1e-20)),
    };
  });
}
