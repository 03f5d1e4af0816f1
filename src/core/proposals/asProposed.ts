import type { Facts } from "../facts/facts";
import { proposeShape } from "../shape/proposeShape";
import { isQuick } from "../shape/quick/turnQuick";
import { ownerOf, ownersOf } from "../song/graph";
import { applyAll, applyOperation, type Operation } from "../song/operations";
import type { Flavour, Piece, Song } from "../song/song";
import { changeFlavour } from "./changeFlavour";
import { takeTogether } from "./takeTogether";

/**
 * The song with one drum, or the whole kit, shaped as a flavour proposes, and its quick controls silent: what is compared with what
 * it is now. Chains keep their processors, so that both can run beside each other.
 */
export function asProposed(song: Song, facts: Facts, piece: Piece | null, flavour: Flavour): Song {
  const changed = applyOperation(song, changeFlavour(song, facts, piece, flavour)).song;
  const meant = (id: string): boolean => piece === null || ownerOf(changed, id)?.piece === piece;
  const proposals = proposeShape(changed, facts).filter((p) => meant(p.owner));
  const shaped = applyAll(changed, takeTogether(changed, proposals));
  const silent = ownersOf(shaped)
    .filter((o) => meant(o.id))
    .flatMap((o) =>
      o.chain
        .filter((p) => p.on && isQuick(o, p.id))
        .map((p): Operation => ({ op: "setProcessor", owner: o.id, processor: p.id, on: false })),
    );
  return applyAll(shaped, silent);
}
