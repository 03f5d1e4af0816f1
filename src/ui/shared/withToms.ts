import { withToms as along } from "../../core/shape/tuning/tomSet";
import type { Operation } from "../../core/song/operations";
import { useSong } from "./songStore";

/** A change of a chain with what it means for the other toms, where they are kept together. */
export function withToms(operation: Operation): Operation {
  const { song, facts } = useSong.getState();
  return song ? along(song, facts, operation) : operation;
}
