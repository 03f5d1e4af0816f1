import { sameValue } from "../sameValue";
import { isMic, kitOf, ownerOf, type Owner } from "./graph";
import type { BusValues, MicValues, Operation, SongValues } from "./operation";
import type { Bus, Mic, Piece, ProcessorState, Song } from "./song";

const micFields = ["piece", "place", "sure", "level", "levelBySection", "muted", "soloed", "silent", "unplayed", "reference", "lateBy", "peakDbfs", "output", "locked", "ownEdits", "start", "audio", "clockPpm", "frames"] as const; // prettier-ignore
const busFields = [
  "name",
  "piece",
  "level",
  "levelBySection",
  "pan",
  "width",
  "muted",
  "soloed",
  "output",
] as const;
const songFields = ["title", "tempo", "hits", "bleed", "heardAs", "detection", "sections", "referenceRecord", "align", "plan", "shaping", "quick", "tighten", "edits", "refused"] as const; // prettier-ignore

/** Fields of `to` that differ from those of `from`. */
function changed<T extends object, K extends keyof T>(from: T, to: T, fields: readonly K[]): Partial<Pick<T, K>> {
  const differing = fields.filter((f) => !sameValue(from[f], to[f]));
  const empty = (f: K) => (f === "levelBySection" ? ({} as T[K]) : to[f]);
  return Object.fromEntries(differing.map((f) => [f, to[f] === undefined ? empty(f) : to[f]])) as unknown as Partial<Pick<T, K>>;
} // prettier-ignore

/** Keys that make one mic or bus wait for another. */
const keyless = (chain: readonly ProcessorState[]): ProcessorState[] =>
  chain.map(({ key, ...rest }) => (key ? rest : { ...rest }));
const isKeyed = (chain: readonly ProcessorState[]): boolean => chain.some((p) => p.key);

/** An owner's ways elsewhere: output, sends, keys. */
const sameWays = (a: Owner, b: Owner): boolean =>
  a.output === b.output &&
  sameValue(a.sends, b.sends) &&
  sameValue(a.chain.map((p) => p.key ?? null).filter(Boolean), b.chain.map((p) => p.key ?? null).filter(Boolean)); // prettier-ignore

const setValues = (owner: Owner, values: MicValues | BusValues): Operation =>
  isMic(owner)
    ? { op: "setMic", mic: owner.id, values: values as MicValues }
    : { op: "setBus", bus: owner.id, values: values as BusValues };

/**
 * What turns a song into another state of itself, as one step: mics that both have, all buses, and the song's own values. Files
 * that came in or went since stay as they are. On the way no mic or bus waits for itself: ways that change are cut first, and
 * laid anew when everything is there.
 * `drum`: only the mics and the bus of that drum, without ways to buses that are not there.
 */
export function becoming(song: Song, wanted: Song, drum: Piece | null = null): Operation {
  const kit = kitOf(song).id;
  const taken = (o: Owner) =>
    drum === null || (isMic(o) ? o.piece === drum : o.kind === "drum" && o.piece === drum);
  const buses = new Set(song.buses.map((b) => b.id));
  const gone = drum === null ? song.buses.filter((b) => !wanted.buses.some((w) => w.id === b.id)) : [];
  const fresh = drum === null ? wanted.buses.filter((b) => !buses.has(b.id)) : [];
  const stays = (id: string | null) => id === null || drum === null || buses.has(id);
  const pairs = [...wanted.mics, ...wanted.buses].filter(taken).flatMap((to) => {
    const from = ownerOf(song, to.id);
    return from && isMic(from) === isMic(to) && !sameValue(from, to) ? [{ from, to }] : [];
  });
  const sendsOf = (o: Owner) => o.sends.filter((s) => stays(s.bus));
  const outputOf = (o: Owner) => (stays(o.output) ? o.output : kit);
  const moved = pairs.filter(({ from, to }) => !sameWays(from, to));
  const cut = moved.flatMap(({ from }): Operation[] => [
    ...(from.sends.length > 0 ? [{ op: "setSends", owner: from.id, sends: [] } as const] : []),
    ...(isKeyed(from.chain) ? [{ op: "setChain", owner: from.id, chain: keyless(from.chain) } as const] : []),
    ...(from.output !== null && from.output !== kit ? [setValues(from, { output: kit })] : []),
  ]);
  const clearing = gone.flatMap((b): Operation[] => [
    ...(b.sends.length > 0 ? [{ op: "setSends", owner: b.id, sends: [] } as const] : []),
    ...(b.output !== kit ? [setValues(b, { output: kit })] : []),
  ]);
  const order = wanted.buses.map((b) => b.id);
  const added: Operation[] =
    fresh.length === 0
      ? []
      : [{
          op: "addBuses",
          buses: fresh.map((b): Bus => ({ ...b, chain: keyless(b.chain), sends: [], output: kit })),
          order: [...gone.map((b) => b.id), ...order],
        }];
  const removed: Operation[] = gone.length === 0 ? [] : [{ op: "removeBuses", buses: gone.map((b) => b.id) }];
  const values = pairs.flatMap(({ from, to }): Operation[] => {
    const fields = isMic(to) ? changed(from as Mic, to, micFields) : changed(from as Bus, to, busFields);
    const { output: _output, ...others } = fields as MicValues & BusValues;
    return [
      ...(Object.keys(others).length > 0 ? [setValues(from, others)] : []),
      ...(sameValue(from.chain, to.chain) ? [] : [{ op: "setChain", owner: to.id, chain: keyless(to.chain) } as const]),
    ];
  });
  const laid = [...moved.map(({ to }) => to), ...fresh].flatMap((to): Operation[] => [
    ...(to.output !== null && outputOf(to) !== kit ? [setValues(to, { output: outputOf(to)! })] : []),
    ...(sendsOf(to).length > 0 ? [{ op: "setSends", owner: to.id, sends: sendsOf(to) } as const] : []),
  ]);
  const keyed = [...pairs.map(({ to }) => to), ...fresh].flatMap((to): Operation[] =>
    isKeyed(to.chain) ? [{ op: "setChain", owner: to.id, chain: drum === null ? to.chain : to.chain.map((p) => (p.key && !ownerOf(song, p.key) ? { ...p, key: null } : p)) }] : [],
  );
  const own: SongValues = drum === null ? (changed(song, wanted, songFields) as SongValues) : {};
  return {
    op: "several",
    operations: [
      ...cut, ...clearing, ...added, ...removed, ...values, ...laid, ...keyed,
      ...(Object.keys(own).length > 0 ? [{ op: "setSong", values: own } as const] : []),
    ],
  };
} // prettier-ignore
