import { newBus } from "./create";
import { isMic, nameOf, type Owner } from "./graph";
import { limits } from "./limits";
import type { Operation } from "./operations";
import type { Song, Tap } from "./song";

/** Endings of a sound file's name. */
const ending = /\.[A-Za-z0-9]{2,4}$/;

/** An id for one more bus. */
export function freeBusId(song: Pick<Song, "mics" | "buses">, wish: string): string {
  const taken = new Set([...song.mics, ...song.buses].map((o) => o.id));
  let id = wish;
  for (let n = 2; taken.has(id); n++) id = `${wish}${n}`;
  return id;
}

/** A bus that one has added: it stands before the kit. */
export function addedBus(song: Song, name: string, output: string): { id: string; operation: Operation } {
  const id = freeBusId(song, "bus");
  const ids = song.buses.map((b) => b.id);
  return {
    id,
    operation: {
      op: "addBuses",
      buses: [newBus(id, name, "group", { output })],
      order: [...ids.slice(0, -1), id, ...ids.slice(-1)],
    },
  };
}

/**
 * A parallel path of one mic, drum or bus: a bus of its own that only it feeds, before its chain or behind it, and that goes
 * where it goes. The fader of the original does not move it.
 */
export function parallelCopy(song: Song, owner: Owner, from: Tap): { id: string; operation: Operation } {
  const id = freeBusId(song, `${owner.id}-copy`);
  const name = `${nameOf(owner).replace(ending, "")} parallel`.slice(0, 60);
  const output = owner.output ?? owner.id;
  const bus = newBus(id, name, "parallel", {
    output,
    piece: isMic(owner) ? owner.piece : owner.piece,
  });
  const ids = song.buses.map((b) => b.id);
  const order = [...ids.slice(0, -1), id, ...ids.slice(-1)];
  const send = { bus: id, level: 0, from, followsPan: true } as const;
  if (owner.sends.length >= limits.sends)
    throw new RangeError(`${nameOf(owner)} has ${limits.sends} sends; it takes no more`);
  return {
    id,
    operation: {
      op: "several",
      operations: [
        { op: "addBuses", buses: [bus], order },
        { op: "setSends", owner: owner.id, sends: [...owner.sends, send] },
      ],
    },
  };
}
