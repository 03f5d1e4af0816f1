import { addedProcessor } from "../song/chainEdits";
import { firstOf, processorOf } from "../song/create";
import { kitOf } from "../song/graph";
import type { Operation } from "../song/operations";
import type { Song } from "../song/song";
import type { PanLaw } from "../signal/pan";

export type SeenFrom = "audience" | "drummer";

/** From which side the whole kit is heard: it is placed as the audience sees it, and turned over at the end of the kit. */
export function seenFrom(song: Song): SeenFrom {
  const width = firstOf(kitOf(song), "width");
  return width?.on && width.params["swap"] === "swapped" ? "drummer" : "audience";
}

/** Turns the whole kit over, or back. */
export function turnKit(song: Song, to: SeenFrom): Operation {
  const kit = kitOf(song);
  const swap = to === "drummer" ? "swapped" : "as they come";
  const width = firstOf(kit, "width");
  if (!width) return addedProcessor(kit, "width", undefined, { swap }).operation;
  return {
    op: "setProcessor",
    owner: kit.id,
    processor: width.id,
    params: { swap },
    ...(to === "drummer" ? { on: true } : {}),
  };
}

/** The pan law that all mics have; null: not all the same. */
export function panLawOf(song: Song): PanLaw | null {
  const [first, ...others] = song.mics.map((m) => processorOf(m, "pan").params["law"] as PanLaw);
  return first === undefined || others.some((law) => law !== first) ? null : first;
}

export const setPanLaw = (song: Song, law: PanLaw): Operation => ({
  op: "several",
  operations: song.mics.map((mic) => ({
    op: "setProcessor",
    owner: mic.id,
    processor: processorOf(mic, "pan").id,
    params: { law },
  })),
});
