import { isMic, nameOf, type Owner } from "../../core/song/graph";
import type { BusValues, MicValues, Operation } from "../../core/song/operations";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";

/** Values that mics and buses have alike. */
export type OwnerValues = Omit<MicValues, "piece"> & Omit<BusValues, "piece">;

/** An operation that sets values of a mic or of a bus. */
export const setOwner = (owner: Owner, values: OwnerValues): Operation =>
  isMic(owner) ? { op: "setMic", mic: owner.id, values } : { op: "setBus", bus: owner.id, values };

/** Leads a mic or bus to another bus. */
export function routeTo(owner: Owner, bus: string, name: string): void {
  if (owner.output === bus) return;
  useSong.getState().change(`${shortName(nameOf(owner))} to ${name}`, setOwner(owner, { output: bus }));
}
