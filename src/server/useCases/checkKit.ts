import type { KitChecked } from "../../contract";
import { drumPieces } from "../../core/song/song";
import { onThread } from "../analysis/threads";
import { stretchOf } from "./stretchAround";

/** Judges the kit of the stored song as it stands, over the stretch with the most strokes. Errors  AppError. */
export async function checkKitNow(songId: string): Promise<KitChecked> {
  const { song, from, stretch } = await stretchOf(songId, () => drumPieces);
  return { verdicts: await onThread("checks", { song, from, stretch }) };
}
