import { freshChain } from "../song/chainEdits";
import { ownerOf, type Owner } from "../song/graph";
import { applyAll, type Operation } from "../song/operations";
import { steps, type Song } from "../song/song";
import type { Facts } from "../facts/facts";
import { proposeStep } from "./propose";
import { takeTogether } from "./takeTogether";

/**
 * What puts a chain back to what was proposed for it: everything there as it began, and all proposals of the steps from Clean
 * on that are about it in force. What is fixed, such as its polarity and delay, stays as it is set.
 */
export function proposedChain(song: Song, facts: Facts, owner: Owner): Operation {
  const fresh = applyAll(song, [{ op: "setChain", owner: owner.id, chain: freshChain(owner) }]);
  const later = steps.slice(steps.indexOf("clean"));
  const mine = (o: Operation): Operation[] =>
    o.op === "several"
      ? o.operations.flatMap(mine)
      : (o.op === "setProcessor" || o.op === "setChain") && o.owner === owner.id
        ? [o]
        : [];
  const wanted = takeTogether(
    fresh,
    later.flatMap((step) => proposeStep(fresh, facts, step)),
  ).flatMap(mine);
  const free = wanted.filter((o) => o.op === "setChain" || !isFixed(owner, o));
  return { op: "setChain", owner: owner.id, chain: ownerOf(applyAll(fresh, free), owner.id)!.chain };
}

const isFixed = (owner: Owner, o: Operation): boolean =>
  o.op === "setProcessor" && ["pan", "trim"].some((type) => o.processor === `${owner.id}.${type}`);
