import { checkParam, type ParamValue } from "../params";
import { processorType } from "../processors";
import { checkChain } from "./chain";
import { checkOperation } from "./checkOperation";
import { songFrames } from "./create";
import { checkGraph, isMic, nameOf, ownerOf } from "./graph";
import { renamePieces, reversedNames } from "./renamePieces";
import type { Bus, Mic, ProcessorState, Song } from "./song";
import type { BusValues, MicValues, Operation, SongValues } from "./operation";

export type { BusValues, MicValues, Operation, SongValues };

export interface Applied {
  readonly song: Song;
  readonly inverse: Operation;
}

/** Old values of the keys that are set. */
function pick<T extends object>(from: T, keys: readonly string[]): Partial<T> {
  return Object.fromEntries(keys.map((k) => [k, from[k as keyof T]])) as Partial<T>;
}

function find<T extends { id: string }>(list: readonly T[], id: string, what: string): T {
  const found = list.find((x) => x.id === id);
  if (!found) throw new RangeError(`there is no ${what} "${id}" in this song`);
  return found;
}

const replace = <T extends { id: string }>(list: readonly T[], changed: T): T[] =>
  list.map((x) => (x.id === changed.id ? changed : x));

/** One owner put back where it stood. */
const withOwner = (song: Song, owner: Mic | Bus): Song =>
  isMic(owner)
    ? { ...song, mics: replace(song.mics, owner) }
    : { ...song, buses: replace(song.buses, owner) };

function findOwner(song: Song, id: string): Mic | Bus {
  const found = ownerOf(song, id);
  if (!found) throw new RangeError(`there is no mic or bus "${id}" in this song`);
  return found;
}

function changeProcessor(
  chain: readonly ProcessorState[],
  o: Extract<Operation, { op: "setProcessor" }>,
): [ProcessorState[], Operation] {
  const state = find(chain, o.processor, "processor");
  const type = processorType(state.type);
  for (const values of [o.params ?? {}, ...Object.values(o.bySection ?? {})])
    for (const [name, value] of Object.entries(values)) checkParam(type.params, name, value);
  if (o.key && !type.listens) throw new TypeError(`${type.label} has no detector that could listen`);
  if (o.response && !type.responds) throw new TypeError(`${type.label} answers with no impulse response`);
  const { key, response, ...bare } = state;
  const heard = o.key === undefined ? key : o.key;
  const answer = o.response === undefined ? response : o.response;
  const changed = {
    ...bare,
    ...(heard ? { key: heard } : {}),
    ...(answer ? { response: answer } : {}),
    on: o.on ?? state.on,
    params: { ...state.params, ...o.params },
    ...(o.bySection ? { bySection: o.bySection } : {}),
  };
  const inverse: Operation = {
    op: "setProcessor",
    owner: o.owner,
    processor: o.processor,
    ...(o.on === undefined ? {} : { on: state.on }),
    ...(o.bySection ? { bySection: state.bySection ?? {} } : {}),
    ...(o.params ? { params: pick(state.params, Object.keys(o.params)) as Record<string, ParamValue> } : {}),
    ...(o.key === undefined ? {} : { key: state.key ?? null }),
    ...(o.response === undefined ? {} : { response: state.response ?? null }),
  };
  return [replace(chain, changed), inverse];
}

/** A list with more in it, in the order that is asked for. */
function withMore<T extends { id: string }>(
  now: readonly T[],
  more: readonly T[],
  order: readonly string[] | undefined,
  what: string,
): T[] {
  const taken = more.find((m) => now.some((x) => x.id === m.id));
  if (taken) throw new RangeError(`there is already a ${what} "${taken.id}" in this song`);
  return inOrder([...now, ...more], order, what);
}

function inOrder<T extends { id: string }>(
  all: readonly T[],
  order: readonly string[] | undefined,
  what: string,
): T[] {
  if (!order) return [...all];
  const places = new Map(order.map((id, i) => [id, i]));
  if (places.size !== all.length || all.some((x) => !places.has(x.id)))
    throw new RangeError(`the order does not hold every ${what} once`);
  return [...all].sort((a, b) => places.get(a.id)! - places.get(b.id)!);
}

const idsOf = (list: readonly { id: string }[]): string[] => list.map((x) => x.id);

/**
 * Applies one operation; the given song is not changed.
 * Errors  RangeError for a mic, bus or processor that is not there, a value out of range or a loop, TypeError for a wrong name.
 */
export function applyOperation(song: Song, o: Operation): Applied {
  checkOperation(o);
  const applied = applyChecked(song, o);
  if (changesGraph(o)) checkGraph(applied.song);
  return applied;
}

type Of<K extends Operation["op"]> = Extract<Operation, { op: K }>;

function setBus(song: Song, o: Of<"setBus">): Applied {
  const bus = find(song.buses, o.bus, "bus");
  if (bus.output === null && o.values.output)
    throw new RangeError("the kit is the end and goes nowhere else");
  return {
    song: { ...song, buses: replace(song.buses, { ...bus, ...o.values }) },
    inverse: { ...o, values: pick(bus, Object.keys(o.values)) as BusValues },
  };
}

function setMic(song: Song, o: Of<"setMic">): Applied {
  const mic = find(song.mics, o.mic, "mic");
  const inverse: Operation = { ...o, values: pick(mic, Object.keys(o.values)) as MicValues };
  return withMics(song, replace(song.mics, { ...mic, ...o.values }), inverse);
}

function setProcessor(song: Song, o: Of<"setProcessor">): Applied {
  const owner = findOwner(song, o.owner);
  const [chain, inverse] = changeProcessor(owner.chain, o);
  return { song: withOwner(song, { ...owner, chain }), inverse };
}

function setChain(song: Song, o: Of<"setChain">): Applied {
  const owner = findOwner(song, o.owner);
  checkChain(o.chain, `the chain of ${nameOf(owner)}`, isMic(owner));
  return { song: withOwner(song, { ...owner, chain: o.chain }), inverse: { ...o, chain: owner.chain } };
}

function setSends(song: Song, o: Of<"setSends">): Applied {
  const owner = findOwner(song, o.owner);
  for (const send of o.sends) find(song.buses, send.bus, "bus");
  return { song: withOwner(song, { ...owner, sends: o.sends }), inverse: { ...o, sends: owner.sends } };
}

const addMics = (song: Song, { mics, order }: Of<"addMics">): Applied =>
  withMics(song, withMore(song.mics, mics, order, "mic"), {
    op: "removeMics",
    mics: idsOf(mics),
    order: idsOf(song.mics),
  });

function removeMics(song: Song, { mics: ids, order }: Of<"removeMics">): Applied {
  const mics = ids.map((id) => find(song.mics, id, "mic"));
  const left = song.mics.filter((m) => !ids.includes(m.id));
  const inverse: Operation = { op: "addMics", mics, order: idsOf(song.mics) };
  return withMics(song, inOrder(left, order, "mic"), inverse);
}

const addBuses = (song: Song, { buses, order }: Of<"addBuses">): Applied => ({
  song: { ...song, buses: withMore(song.buses, buses, order, "bus") },
  inverse: { op: "removeBuses", buses: idsOf(buses), order: idsOf(song.buses) },
});

function removeBuses(song: Song, { buses: ids, order }: Of<"removeBuses">): Applied {
  const buses = ids.map((id) => find(song.buses, id, "bus"));
  const left = song.buses.filter((b) => !ids.includes(b.id));
  return {
    song: { ...song, buses: inOrder(left, order, "bus") },
    inverse: { op: "addBuses", buses, order: idsOf(song.buses) },
  };
}

function several(song: Song, { operations }: Of<"several">): Applied {
  let now = song;
  const inverses: Operation[] = [];
  for (const one of operations) {
    const applied = applyChecked(now, one);
    now = applied.song;
    inverses.unshift(applied.inverse);
  }
  return { song: now, inverse: { op: "several", operations: inverses } };
}

/** As `applyOperation`, for operations that were checked where they came from. */
export function applyChecked(song: Song, o: Operation): Applied {
  switch (o.op) {
    case "setSong":
      return {
        song: { ...song, ...o.values },
        inverse: { op: "setSong", values: pick(song, Object.keys(o.values)) as SongValues },
      };
    case "renamePieces":
      return {
        song: renamePieces(song, o.names),
        inverse: { op: "renamePieces", names: reversedNames(o.names) },
      };
    case "setMic":
      return setMic(song, o);
    case "setBus":
      return setBus(song, o);
    case "setProcessor":
      return setProcessor(song, o);
    case "setChain":
      return setChain(song, o);
    case "setSends":
      return setSends(song, o);
    case "addMics":
      return addMics(song, o);
    case "removeMics":
      return removeMics(song, o);
    case "addBuses":
      return addBuses(song, o);
    case "removeBuses":
      return removeBuses(song, o);
    case "several":
      return several(song, o);
  }
}

/** True for what can close a loop, or leave something going nowhere. */
const changesGraph = (o: Operation): boolean =>
  o.op === "several"
    ? o.operations.some(changesGraph)
    : ["setChain", "setSends", "addMics", "removeMics", "addBuses", "removeBuses"].includes(o.op) ||
      (o.op === "setProcessor" && o.key !== undefined) ||
      ((o.op === "setMic" || o.op === "setBus") && o.values.output !== undefined);

const withMics = (song: Song, mics: readonly Mic[], inverse: Operation): Applied => ({
  song: { ...song, mics, frames: songFrames(mics, song.sampleRate) },
  inverse,
});

/** Applies operations in order and returns the last song. */
export const applyAll = (song: Song, operations: readonly Operation[]): Song =>
  operations.reduce((s, o) => applyOperation(s, o).song, song);
