import { proposeAlign } from "../align/proposeAlign";
import { proposeBlend } from "../blend/proposeBlend";
import { proposeClean } from "../clean/proposeClean";
import type { Facts } from "../facts/facts";
import { proposeTrims } from "../gather/proposeTrims";
import { proposeShape } from "../shape/proposeShape";
import type { Proposal } from "../song/proposal";
import type { Song, Step } from "../song/song";

/** Proposals of one step for the song as it stands. */
export function proposeStep(song: Song, facts: Facts, step: Step): Proposal[] {
  if (step === "gather") return proposeTrims(song, facts);
  if (step === "align") return proposeAlign(song, facts);
  if (step === "clean") return proposeClean(song, facts);
  if (step === "shape") return proposeShape(song, facts);
  if (step === "blend") return proposeBlend(song, facts);
  return [];
}
