import { proposeAlign } from "../align/proposeAlign";
import { proposeBlend } from "../blend/proposeBlend";
import { proposeClean } from "../clean/proposeClean";
import type { Facts } from "../facts/facts";
import { proposeTrims } from "../gather/proposeTrims";
import { proposeShape } from "../shape/proposeShape";
import { inKitOrder } from "../song/kitOrder";
import type { Proposal } from "../song/proposal";
import type { Song, Step } from "../song/song";

/** Proposals of one step for the song as it stands: mic by mic in the order of the kit, then those of buses and the kit. */
export function proposeStep(song: Song, facts: Facts, step: Step): Proposal[] {
  const places = new Map(inKitOrder(song.mics).map((m, i) => [m.id, i]));
  const placeOf = ({ owner }: Proposal): number => places.get(owner) ?? places.size;
  return proposalsOf(song, facts, step).sort((a, b) => placeOf(a) - placeOf(b));
}

function proposalsOf(song: Song, facts: Facts, step: Step): Proposal[] {
  if (step === "gather") return proposeTrims(song, facts);
  if (step === "align") return proposeAlign(song, facts);
  if (step === "clean") return proposeClean(song, facts);
  if (step === "shape") return proposeShape(song, facts);
  if (step === "blend") return proposeBlend(song, facts);
  return [];
}
