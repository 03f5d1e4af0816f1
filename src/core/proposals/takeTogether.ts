import { applyOperation, type Operation } from "../song/operations";
import { ownerOf } from "../song/graph";
import type { Proposal } from "../song/proposal";
import type { Song } from "../song/song";

/**
 * The operations of proposals that were made of one song, so that all of them can be done one after another: a proposal that puts a
 * processor into a chain holds the chain as it was, and would take out again what another has put there.
 */
export const takeTogether = (song: Song, proposals: readonly Proposal[]): Operation[] =>
  inTurn(
    song,
    song,
    proposals.map((p) => p.operation),
  );

/** Operations that were made of song `then`, for song `now` and what each leaves for the next. */
function inTurn(then: Song, now: Song, operations: readonly Operation[]): Operation[] {
  let at = now;
  return operations.map((operation) => {
    const rebased = onto(then, at, operation);
    at = applyOperation(at, rebased).song;
    return rebased;
  });
}

/** An operation that was made of song `then`, for song `now`. */
function onto(then: Song, now: Song, operation: Operation): Operation {
  if (operation.op === "several")
    return { ...operation, operations: inTurn(then, now, operation.operations) };
  if (operation.op !== "setChain") return operation;
  const was = ownerOf(then, operation.owner)?.chain ?? [];
  const is = ownerOf(now, operation.owner)?.chain ?? [];
  if (was.length === is.length && was.every((p, i) => p === is[i])) return operation;
  const added = operation.chain.filter((p) => !was.some((o) => o.id === p.id));
  const gone = was.filter((p) => !operation.chain.some((o) => o.id === p.id));
  const chain = is.filter((p) => !gone.some((o) => o.id === p.id));
  for (const p of added) {
    // Before what stands behind it in its own chain, as far as that is still there.
    const behind = operation.chain.slice(operation.chain.indexOf(p) + 1).map((o) => o.id);
    const first = chain.findIndex((o) => behind.includes(o.id));
    chain.splice(first < 0 ? chain.length : first, 0, p);
  }
  return { ...operation, chain };
}
