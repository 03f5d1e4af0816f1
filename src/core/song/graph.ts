import { limits } from "./limits";
import type { Bus, Mic, Song } from "./song";

type Parts = Pick<Song, "mics" | "buses">;
export type Owner = Mic | Bus;

export const isMic = (owner: Owner): owner is Mic => "file" in owner;
export const ownersOf = ({ mics, buses }: Parts): Owner[] => [...mics, ...buses];
export const ownerOf = (song: Parts, id: string | null): Owner | undefined =>
  song.mics.find((m) => m.id === id) ?? song.buses.find((b) => b.id === id);
/** What a mic or bus is called. */
export const nameOf = (owner: Owner): string => (isMic(owner) ? owner.file : owner.name);

/** The bus at the end of everything. Errors  TypeError without one. */
export function kitOf({ buses }: Pick<Song, "buses">): Bus {
  const kit = buses.find((b) => b.output === null);
  if (!kit) throw new TypeError("the song has no kit bus");
  return kit;
}

/** Mics and buses to whose detectors' keys an owner listens, each once, in the order of its chain. */
export const keysOf = (owner: Owner): string[] => [
  ...new Set(owner.chain.flatMap(({ key }) => (key ? [key] : []))),
];

/** Ids of the buses that an owner feeds: its output and its sends. */
export const fed = ({ output, sends }: Owner): string[] => [
  ...(output === null ? [] : [output]),
  ...sends.map((s) => s.bus),
];

/**
 * By id: what must be computed before each mic and bus. A mic that listens to another mic hears it as it was recorded, so
 * that mics do not wait for each other.
 */
export function needs(song: Parts): Map<string, Set<string>> {
  const mics = new Set(song.mics.map((m) => m.id));
  const before = new Map(ownersOf(song).map((o) => [o.id, new Set<string>()]));
  for (const owner of ownersOf(song)) {
    for (const bus of fed(owner)) before.get(bus)?.add(owner.id);
    for (const key of keysOf(owner))
      if (!(mics.has(key) && mics.has(owner.id))) before.get(owner.id)!.add(key);
  }
  return before;
}

/** True when what `from` gives arrives at `to` on any way, keys included; or they are the same. */
export function reaches(song: Parts, from: string, to: string, before = needs(song)): boolean {
  const seen = new Set<string>();
  const look = (id: string): boolean => {
    if (id === from) return true;
    if (seen.has(id)) return false;
    seen.add(id);
    return [...(before.get(id) ?? [])].some(look);
  };
  return look(to);
}

/**
 * Buses, and mics that wait for one, in an order in which each can be computed: as in the song, as far as that goes, the
 * kit last. Errors  RangeError that names a loop.
 */
export function mixOrder(song: Parts): Owner[] {
  const before = needs(song);
  const done = new Set(song.mics.filter((m) => before.get(m.id)!.size === 0).map((m) => m.id));
  const kit = kitOf(song);
  const left = [
    ...song.mics.filter((m) => !done.has(m.id)),
    ...song.buses.filter((b) => b !== kit),
    kit,
  ] as Owner[];
  const order: Owner[] = [];
  while (left.length > 0) {
    const at = left.findIndex((o) => [...before.get(o.id)!].every((id) => done.has(id)));
    if (at < 0) {
      const loop = left.filter((o) => [...before.get(o.id)!].some((id) => reaches(song, o.id, id, before)));
      throw new RangeError(
        `${loop.map(nameOf).join(", ")} wait for each other; send one of them elsewhere, or take its key away`,
      );
    }
    const [next] = left.splice(at, 1);
    done.add(next!.id);
    order.push(next!);
  }
  return order;
}

/** By bus id: buses one after another from the furthest mic up to and with this one. The song must hold no loop. */
export function depths(song: Parts): Map<string, number> {
  const depth = new Map<string, number>();
  for (const owner of mixOrder(song)) {
    if (isMic(owner)) continue;
    const feeding = song.buses.filter((b) => fed(b).includes(owner.id));
    depth.set(owner.id, 1 + Math.max(0, ...feeding.map((b) => depth.get(b.id) ?? 0)));
  }
  return depth;
}

/** Everything that arrives at `id` on any way, keys included, and itself. */
export function allBefore(id: string, before: ReadonlyMap<string, ReadonlySet<string>>): Set<string> {
  const found = new Set([id]);
  for (const one of found) for (const b of before.get(one) ?? []) found.add(b);
  return found;
}

/** By bus id: buses one after another from this one on to the end, itself included. The song must hold no loop. */
function heights({ buses }: Parts): (id: string) => number {
  const byId = new Map(buses.map((b) => [b.id, b]));
  const known = new Map<string, number>();
  const height = (id: string): number => {
    const found = known.get(id);
    if (found !== undefined) return found;
    const bus = byId.get(id);
    const value = bus ? 1 + Math.max(0, ...fed(bus).map(height)) : 0;
    known.set(id, value);
    return value;
  };
  return height;
}

/** By id of a mic or bus: buses to which it can be sent without a loop and without too many one after another. */
export function allTargets(song: Parts): (id: string) => Bus[] {
  const before = needs(song);
  const depth = depths(song);
  const height = heights(song);
  return (id) => {
    const above = allBefore(id, before);
    return song.buses.filter((b) => !above.has(b.id) && (depth.get(id) ?? 0) + height(b.id) <= limits.depth);
  };
}
export const possibleTargets = (song: Parts, id: string): Bus[] => allTargets(song)(id);

/** Mics and buses to which a detector of `id` can listen without waiting for itself. */
export function possibleKeys(song: Parts, id: string): Owner[] {
  const before = needs(song);
  const listensFromMic = song.mics.some((m) => m.id === id);
  return ownersOf(song).filter(
    (o) => o.id !== id && ((listensFromMic && isMic(o)) || !reaches(song, id, o.id, before)),
  );
}

/**
 * Checks who feeds whom.
 * Errors  RangeError that names a mic or bus that feeds or hears what is not there, a loop, and what is too much.
 */
export function checkGraph(song: Parts): void {
  const { mics, buses } = song;
  if (mics.length > limits.mics) throw new RangeError(`${mics.length} mics; a song takes ${limits.mics}`);
  if (buses.length > limits.buses)
    throw new RangeError(`${buses.length} buses; a song takes ${limits.buses}`);
  const ids = new Set<string>();
  for (const owner of ownersOf(song)) {
    if (ids.has(owner.id)) throw new RangeError(`there are two mics or buses "${owner.id}"`);
    ids.add(owner.id);
  }
  if (buses.filter((b) => b.output === null).length !== 1)
    throw new RangeError("a song has exactly one kit bus");
  const known = new Set(buses.map((b) => b.id));
  for (const owner of ownersOf(song)) {
    for (const bus of fed(owner))
      if (!known.has(bus)) throw new RangeError(`${nameOf(owner)} goes to a bus "${bus}" that is not there`);
    for (const key of keysOf(owner))
      if (!ids.has(key) || key === owner.id)
        throw new RangeError(
          `${nameOf(owner)} listens to "${key}", which is no other mic or bus of the song`,
        );
  }
  const deepest = Math.max(...depths(song).values());
  if (deepest > limits.depth)
    throw new RangeError(`${deepest} buses one after another; a song takes ${limits.depth}`);
}
