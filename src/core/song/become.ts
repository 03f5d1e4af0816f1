import { sameValue } from "../sameValue";
import * as schema from "./schema";
import { isMic, kitOf, ownerOf, type Owner } from "./graph";
import type { BusValues, MicValues, Operation, SongValues } from "./operation";
import { stillFader } from "./levelMoves";
import type { Bus, Mic, Piece, ProcessorState, Song } from "./song";

/** What can be set: all that is declared so. */
const micFields = Object.keys(schema.micFields) as (keyof MicValues)[];
const busFields = Object.keys(schema.busFields) as (keyof BusValues)[];
const songFields = Object.keys(schema.songFields) as (keyof SongValues)[];

/** Several operations as one. */
type Several = Extract<Operation, { op: "several" }>;

/** Fields of `to` that differ from those of `from`. */
function changed<T extends object, K extends keyof T>(
  from: T,
  to: T,
  fields: readonly K[],
): Partial<Pick<T, K>> {
  const differing = fields.filter((f) => !sameValue(from[f], to[f]));
  const empty = (f: K) => (stillFader as Partial<Record<K, unknown>>)[f] as T[K] | undefined;
  return Object.fromEntries(
    differing.map((f) => [f, to[f] === undefined ? empty(f) : to[f]]),
  ) as unknown as Partial<Pick<T, K>>;
}

/** Keys that make one mic or bus wait for another. */
const keyless = (chain: readonly ProcessorState[]): ProcessorState[] =>
  chain.map(({ key, ...rest }) => (key ? rest : { ...rest }));
const isKeyed = (chain: readonly ProcessorState[]): boolean => chain.some((p) => p.key);

/** An owner's ways elsewhere: output, sends, keys. */
const sameWays = (a: Owner, b: Owner): boolean =>
  a.output === b.output &&
  sameValue(a.sends, b.sends) &&
  sameValue(
    a.chain.map((p) => p.key ?? null).filter(Boolean),
    b.chain.map((p) => p.key ?? null).filter(Boolean),
  );

const setValues = (owner: Owner, values: MicValues | BusValues): Operation =>
  isMic(owner)
    ? { op: "setMic", mic: owner.id, values: values as MicValues }
    : { op: "setBus", bus: owner.id, values: values as BusValues };

/** An owner without ways to what is not there. */
function within<T extends Owner>(owner: T, there: ReadonlySet<string>, kit: string): T {
  const known = (id: string | null | undefined): boolean => !id || there.has(id);
  return {
    ...owner,
    output: known(owner.output) ? owner.output : kit,
    sends: owner.sends.filter((s) => there.has(s.bus)),
    chain: owner.chain.map(({ key, response, ...rest }) => ({
      ...rest,
      ...(key !== undefined && known(key) ? { key } : {}),
      ...(response !== undefined && known(response) ? { response } : {}),
    })),
    ...(isMic(owner) && !known(owner.reference) ? { reference: null } : {}),
  };
}

/**
 * The song as it shall be: files that came in since stay as they are, those that went stay away, and nothing goes to, listens to or
 * stands for what is not there.
 */
function goalOf(song: Song, wanted: Song, drum: Piece | null): Song {
  const kit = kitOf(song).id;
  const taken = (o: Owner) =>
    drum === null || (isMic(o) ? o.piece === drum : o.kind === "drum" && o.piece === drum);
  const kept = <T extends Owner>(now: readonly T[], then: readonly T[]): T[] =>
    now.map((o) => then.find((w) => w.id === o.id && taken(w)) ?? o);
  const mics = kept(song.mics, wanted.mics);
  const buses = drum === null ? wanted.buses : kept(song.buses, wanted.buses);
  const there = new Set([...mics, ...buses].map((o) => o.id));
  const record = wanted.referenceRecord;
  return {
    ...(drum === null ? { ...wanted, referenceRecord: record && there.has(record) ? record : null } : song),
    mics: mics.map((m) => within(m, there, kit)),
    buses: buses.map((b) => within(b, there, kit)),
  };
}

/**
 * What turns a song into another state of itself, as one step: mics that both have, all buses, and the song's own values. On the
 * way no mic or bus waits for itself: ways that change are cut first, and laid anew when everything is there.
 * `drum`: only the mics and the bus of that drum.
 */
export function becoming(song: Song, wanted: Song, drum: Piece | null = null): Several {
  const kit = kitOf(song).id;
  const goal = goalOf(song, wanted, drum);
  const gone = song.buses.filter((b) => !ownerOf(goal, b.id));
  const fresh = goal.buses.filter((b) => !ownerOf(song, b.id));
  const pairs = [...goal.mics, ...goal.buses].flatMap((to) => {
    const from = ownerOf(song, to.id);
    return from && !sameValue(from, to) ? [{ from, to }] : [];
  });
  const moved = pairs.filter(({ from, to }) => !sameWays(from, to));
  const cut = [...moved.map(({ from }) => from), ...gone].flatMap((from): Operation[] => [
    ...(from.sends.length > 0 ? [{ op: "setSends", owner: from.id, sends: [] } as const] : []),
    ...(isKeyed(from.chain) ? [{ op: "setChain", owner: from.id, chain: keyless(from.chain) } as const] : []),
    ...(from.output !== null && from.output !== kit ? [setValues(from, { output: kit })] : []),
  ]);
  const added: Operation[] =
    fresh.length === 0
      ? []
      : [
          {
            op: "addBuses",
            buses: fresh.map((b): Bus => ({ ...b, chain: keyless(b.chain), sends: [], output: kit })),
            order: [...gone, ...goal.buses].map((b) => b.id),
          },
        ];
  const removed: Operation[] = gone.length === 0 ? [] : [{ op: "removeBuses", buses: gone.map((b) => b.id) }];
  const values = pairs.flatMap(({ from, to }): Operation[] => {
    const fields = isMic(to) ? changed(from as Mic, to, micFields) : changed(from as Bus, to, busFields);
    const { output: _output, ...others } = fields as MicValues & BusValues;
    return Object.keys(others).length > 0 ? [setValues(from, others)] : [];
  });
  const laid = [...moved.map(({ to }) => to), ...fresh].flatMap((to): Operation[] => [
    ...(to.output !== null && to.output !== kit ? [setValues(to, { output: to.output })] : []),
    ...(to.sends.length > 0 ? [{ op: "setSends", owner: to.id, sends: to.sends } as const] : []),
  ]);
  const rechained = pairs.filter(({ from, to }) => !sameValue(from.chain, to.chain)).map(({ to }) => to);
  const cutChains = moved.filter(({ from }) => isKeyed(from.chain)).map(({ to }) => to);
  const chained = [...new Set([...rechained, ...cutChains, ...fresh.filter((b) => isKeyed(b.chain))])];
  const chains = chained.map((to): Operation => ({ op: "setChain", owner: to.id, chain: to.chain }));
  const own = changed(song, goal, songFields) as SongValues;
  return {
    op: "several",
    operations: [
      ...cut,
      ...added,
      ...removed,
      ...values,
      ...laid,
      ...chains,
      ...(Object.keys(own).length > 0 ? [{ op: "setSong", values: own } as const] : []),
    ],
  };
}
