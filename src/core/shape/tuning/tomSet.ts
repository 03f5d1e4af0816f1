import type { Facts } from "../../facts/facts";
import { sameValue } from "../../sameValue";
import { partsOf, withFree } from "../../song/chain";
import { copiesFor } from "../../song/chainEdits";
import { isMic, ownerOf } from "../../song/graph";
import { applyOperation, type Operation } from "../../song/operations";
import { isShell, type Mic, type ProcessorState, type Song } from "../../song/song";
import { knownDrum, retuned, retunings } from "./retune";

/** Main mics of the toms that are played, in the order of the song: a set, of which what is set on one holds for all. */
export const tomSet = ({ mics }: Pick<Song, "mics">): Mic[] =>
  mics.filter(
    (m) =>
      isShell(m.piece) &&
      m.piece !== "kick" &&
      m.piece !== "snare" &&
      !m.reference &&
      !m.silent &&
      !m.unplayed,
  );

/** The same processor in another chain: the nth of its type. */
function counterpart(
  chain: readonly ProcessorState[],
  p: ProcessorState,
  other: readonly ProcessorState[],
): ProcessorState | undefined {
  const nth = chain.filter((x) => x.type === p.type).findIndex((x) => x.id === p.id);
  return other.filter((x) => x.type === p.type)[nth];
}

/** Processors as they would stand on another tom. */
const onto = (
  song: Song,
  facts: Facts,
  from: Mic,
  to: Mic,
  chain: readonly ProcessorState[],
): ProcessorState[] =>
  retuned(chain, retunings(chain, knownDrum(song, facts, from), knownDrum(song, facts, to)));

/**
 * Values of one tom's processor on another one: those that the other tom had as this one's, each tuned to its drum. What was
 * different there is an exception and stays.
 */
function alongValues(
  song: Song,
  facts: Facts,
  from: Mic,
  to: Mic,
  before: ProcessorState,
  after: ProcessorState,
  set: readonly string[],
): Operation[] {
  const other = counterpart(from.chain, before, to.chain);
  if (!other) return [];
  const [then] = onto(song, facts, from, to, [before]);
  const [now] = onto(song, facts, from, to, [after]);
  // While a value is being dragged the others have moved along already.
  const names = set.filter((name) => [then, now].some((p) => sameValue(other.params[name], p!.params[name])));
  const params = Object.fromEntries(names.map((name) => [name, now!.params[name]!]));
  const on = before.on !== after.on && other.on === before.on ? after.on : undefined;
  if (names.length === 0 && on === undefined) return [];
  return [
    {
      op: "setProcessor",
      owner: to.id,
      processor: other.id,
      ...(names.length > 0 ? { params } : {}),
      ...(on === undefined ? {} : { on }),
    },
  ];
}

/** The order and the processors of one tom's chain on another one, which keeps what it had and what it alone has. */
function alongChain(song: Song, facts: Facts, from: Mic, to: Mic, now: readonly ProcessorState[]): Operation {
  const { free: was } = partsOf(from.chain);
  const { free: theirs } = partsOf(to.chain);
  const { free } = partsOf(now);
  const matched = new Map(
    was.flatMap((p) => {
      const other = counterpart(was, p, theirs);
      return other ? [[p.id, other] as const] : [];
    }),
  );
  const kept = free.flatMap((p) => matched.get(p.id) ?? []);
  const alone = theirs.filter((p) => ![...matched.values()].includes(p));
  const added = free.filter((p) => !was.some((o) => o.id === p.id));
  const copies = copiesFor(song, to, onto(song, facts, from, to, added), [...kept, ...alone]);
  const chain = free.flatMap((p) => matched.get(p.id) ?? copies[added.indexOf(p)] ?? []);
  return { op: "setChain", owner: to.id, chain: withFree(to.chain, [...chain, ...alone]) };
}

/**
 * A change of one tom's chain with what it means for the others where the toms are kept together; any other change as it is.
 * What is set for a section alone stays with the tom on which it was set.
 */
export function withToms(song: Song, facts: Facts, operation: Operation): Operation {
  if (!song.shaping.tomsTogether) return operation;
  if (operation.op !== "setProcessor" && operation.op !== "setChain") return operation;
  const from = ownerOf(song, operation.owner);
  const set = tomSet(song);
  if (!from || !isMic(from) || !set.some((m) => m.id === from.id)) return operation;
  const others = set.filter((m) => m.id !== from.id);
  if (operation.op === "setChain")
    return {
      op: "several",
      operations: [operation, ...others.map((to) => alongChain(song, facts, from, to, operation.chain))],
    };
  const before = partsOf(from.chain).free.find((p) => p.id === operation.processor);
  if (!before) return operation;
  const changed = ownerOf(applyOperation(song, operation).song, from.id)!;
  const after = changed.chain.find((p) => p.id === before.id)!;
  const along = others.flatMap((to) =>
    alongValues(song, facts, from, to, before, after, Object.keys(operation.params ?? {})),
  );
  return along.length === 0 ? operation : { op: "several", operations: [operation, ...along] };
}
