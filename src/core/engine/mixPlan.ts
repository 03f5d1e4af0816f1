import { isMic, keysOf, kitOf, mixOrder, needs, type Owner } from "../song/graph";
import type { Bus, Mic, Song } from "../song/song";
import { chainLatency, inLanes, micLatency } from "./micBank";

/** What is computed together: buses whose chains are woven together, or a mic that waits for a bus. */
export type PlannedUnit = { readonly mic: Mic } | { readonly buses: readonly Bus[] };

/** Buses that are woven together at most: more make no fuller vectors, and a change of one sets all of them up anew. */
const mostWoven = 8;

/** What can be computed together, in order: buses that do not wait for each other. */
export function planUnits(song: Song): PlannedUnit[] {
  const before = needs(song);
  const order = mixOrder(song);
  const rank = new Map<string, number>();
  for (const o of order)
    rank.set(o.id, 1 + Math.max(0, ...[...before.get(o.id)!].map((id) => rank.get(id) ?? 0)));
  const units: { rank: number; woven: boolean; owners: Owner[] }[] = [];
  for (const owner of order) {
    // A chain with a key runs alone, and one with nothing in it needs no lanes.
    const woven = !isMic(owner) && keysOf(owner).length === 0 && owner.chain.length > 0;
    const at = rank.get(owner.id)!;
    const beside = units.find((u) => woven && u.woven && u.rank === at && u.owners.length < mostWoven);
    if (beside) beside.owners.push(owner);
    else units.push({ rank: at, woven, owners: [owner] });
  }
  return units
    .sort((a, b) => a.rank - b.rank)
    .map(({ owners }) => (isMic(owners[0]!) ? { mic: owners[0] } : { buses: owners as Bus[] }));
}

/** When something is heard in the mix, frames behind the song: what comes into it, and what leaves its chain. */
export interface MixTime {
  readonly arrival: number;
  readonly late: number;
}

/**
 * By id of every bus and of every mic that waits for one: when it is heard. Each waits for the slowest that comes into it,
 * keys included, and for those that share its lanes.
 */
export function mixTimes(song: Song, units = planUnits(song)): Map<string, MixTime> {
  const mics = micLatency(song);
  const times = new Map<string, MixTime>();
  const waiting = [...song.mics, ...song.buses];
  const lateOf = (id: string): number => times.get(id)?.late ?? mics;
  const feeding = (bus: Owner): number[] =>
    waiting.flatMap((o) => {
      const time = times.get(o.id);
      if (!time) return [];
      const sends = o.sends.filter((s) => s.bus === bus.id);
      const taken = sends.map((s) => (s.from === "input" && !isMic(o) ? time.arrival : time.late));
      return o.output === bus.id ? [time.late, ...taken] : taken;
    });
  for (const unit of units) {
    const owners: readonly Owner[] = "mic" in unit ? [unit.mic] : unit.buses;
    const isLate = (id: string) => "buses" in unit || times.has(id);
    const asked = owners.flatMap((o) => [
      ...(isMic(o) ? [] : feeding(o)),
      ...keysOf(o).filter(isLate).map(lateOf),
    ]);
    const arrival = Math.max(mics, ...asked);
    for (const o of owners) {
      const chain = isMic(o) ? inLanes(o.chain) : o.chain;
      times.set(o.id, { arrival, late: arrival + chainLatency(chain, song.sampleRate) });
    }
  }
  return times;
}

/** Frames by which a song's kit is heard late. */
export const songLatency = (song: Song): number => mixTimes(song).get(kitOf(song).id)!.late;
