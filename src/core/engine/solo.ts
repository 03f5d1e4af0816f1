import { fed, isMic, ownersOf, type Owner } from "../song/graph";
import type { Song } from "../song/song";

/** Says whether what one mic or bus gives to a bus is heard there. */
export type IsOpen = (from: string, to: string) => boolean;

/** Only what answers with it is heard of an impulse response. */
const isResponse = (owner: Owner): boolean => isMic(owner) && owner.piece === "response";

/**
 * Which ways are open while some mics and buses are heard alone. What a soloed one gives goes on to the end, its sends
 * included, so that its room and parallel paths are heard with it; what feeds it is heard through it alone.
 */
export function openWays(song: Pick<Song, "mics" | "buses" | "referenceRecord">): IsOpen {
  const owners = ownersOf(song);
  const muted = new Set(
    owners.filter((o) => o.muted || o.id === song.referenceRecord || isResponse(o)).map((o) => o.id),
  );
  const soloed = owners.filter((o) => o.soloed && o.output !== null).map((o) => o.id);
  if (soloed.length === 0) return (from) => !muted.has(from);
  const byId = new Map(owners.map((o) => [o.id, o]));
  const follow = (start: readonly string[], next: (o: Owner) => string[]): Set<string> => {
    const seen = new Set(start);
    for (const id of seen) for (const n of next(byId.get(id)!)) if (byId.has(n)) seen.add(n);
    return seen;
  };
  const behind = follow(soloed, fed);
  const before = follow(soloed, (o) => owners.filter((x) => fed(x).includes(o.id)).map((x) => x.id));
  return (from, to) => !muted.has(from) && (behind.has(from) || before.has(to));
}
