import { isChoice, type ParamValue } from "../params";
import type { DrumFigure } from "../processor";
import { processorType } from "../processors";
import { partsOf, withFree } from "./chain";
import { freeId, micChain, newBuses, newProcessor } from "./create";
import { isMic, possibleKeys, type Owner } from "./graph";
import type { Operation } from "./operations";
import type { ProcessorState, Song } from "./song";

const set = (owner: Owner, free: readonly ProcessorState[]): Operation => ({
  op: "setChain",
  owner: owner.id,
  chain: withFree(owner.chain, free),
});
const placeOf = (free: readonly ProcessorState[], at: number | undefined): number =>
  at === undefined ? free.length : Math.max(0, Math.min(free.length, at));

/** A processor more, at place `at` among those one may move (the end without one), switched on unless said; with its id. */
export function addedProcessor(
  owner: Owner,
  type: string,
  at?: number,
  params: Readonly<Record<string, ParamValue>> = {},
  on = true,
): { id: string; operation: Operation } {
  const { free } = partsOf(owner.chain);
  const id = freeId(owner.id, type, owner.chain);
  const state = { ...newProcessor(owner.id, type, on, params), id };
  const place = placeOf(free, at);
  return { id, operation: set(owner, [...free.slice(0, place), state, ...free.slice(place)]) };
}

/** Values with which a processor comes in on a drum of which this is known, within what its parameters can hold. */
export function tunedTo(
  type: string,
  known: Readonly<Partial<Record<DrumFigure, number | undefined>>>,
): Record<string, ParamValue> {
  const { takes, params } = processorType(type);
  return Object.fromEntries(
    Object.entries(takes).flatMap(([figure, name]): [string, number][] => {
      const spec = params[name];
      const value = known[figure as DrumFigure];
      if (value === undefined || !spec || isChoice(spec)) return [];
      return [[name, Number(Math.min(spec.max, Math.max(spec.min, value)).toPrecision(3))]];
    }),
  );
}

export const withoutProcessor = (owner: Owner, id: string): Operation =>
  set(
    owner,
    partsOf(owner.chain).free.filter((p) => p.id !== id),
  );

/** A processor at another place among those one may move. */
export function movedProcessor(owner: Owner, id: string, to: number): Operation {
  const { free } = partsOf(owner.chain);
  const rest = free.filter((p) => p.id !== id);
  const state = free.find((p) => p.id === id);
  const place = placeOf(rest, to);
  return set(owner, state ? [...rest.slice(0, place), state, ...rest.slice(place)] : free);
}

/**
 * Copies of processors for another chain, under ids of their own. A key that the new owner cannot listen to without waiting
 * for itself is left out, and so are values of sections and responses that this song does not have.
 */
export function copiesFor(
  song: Song,
  owner: Owner,
  copied: readonly ProcessorState[],
  beside: readonly ProcessorState[],
): ProcessorState[] {
  const keys = new Set(possibleKeys(song, owner.id).map((o) => o.id));
  const sections = new Set(song.sections.map((s) => s.id));
  const taken: ProcessorState[] = [...beside];
  return copied.map(({ key, response, bySection, ...state }) => {
    const known = Object.entries(bySection ?? {}).filter(([id]) => sections.has(id));
    const copy: ProcessorState = {
      ...state,
      id: freeId(owner.id, state.type, taken),
      ...(key && keys.has(key) ? { key } : {}),
      ...(response && song.mics.some((m) => m.id === response) ? { response } : {}),
      ...(known.length > 0 ? { bySection: Object.fromEntries(known) } : {}),
    };
    taken.push(copy);
    return copy;
  });
}

/**
 * Processors put into chains: beside what is there, behind `after` or at the end, or in the place of all of it. `tuned`: what is put
 * into one of them, where it is not the same everywhere.
 */
export function pasted(
  song: Song,
  owners: readonly Owner[],
  copied: readonly ProcessorState[],
  {
    replace = false,
    after = null,
    tuned = () => copied,
  }: { replace?: boolean; after?: string | null; tuned?: (owner: Owner) => readonly ProcessorState[] } = {},
): Operation {
  return {
    op: "several",
    operations: owners.map((owner) => {
      const parts = partsOf(owner.chain);
      const free = tuned(owner).filter((p) => processorType(p.type).place === "free");
      if (replace) return set(owner, copiesFor(song, owner, free, [...parts.first, ...parts.last]));
      const copies = copiesFor(song, owner, free, owner.chain);
      const at = parts.free.findIndex((p) => p.id === after);
      const place = at < 0 ? parts.free.length : at + 1;
      return set(owner, [...parts.free.slice(0, place), ...copies, ...parts.free.slice(place)]);
    }),
  };
}

/** What a mic or bus begins with: everything there, nothing of it set. */
export function freshChain(owner: Owner): readonly ProcessorState[] {
  if (!isMic(owner)) return newBuses().find((b) => b.id === owner.id)?.chain ?? [];
  const free = micChain.filter((type) => processorType(type).place === "free");
  return withFree(
    owner.chain,
    free.map((type) => newProcessor(owner.id, type)),
  );
}
