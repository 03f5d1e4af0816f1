import type { KitChecked } from "../../contract";
import { drumPieces } from "../../core/song/song";
import { analysisThreads } from "../analysis/threads";
import { stretchOf } from "./stretchAround";

/** Judges the kit of the stored song as it stands, over the stretch with the most strokes. Errors  AppError. */
export async function checkKitNow(songId: string): Promise<KitChecked> {
  const { song, from, stretch } = await stretchOf(songId, () => drumPieces);
  const threads = analysisThreads();
  const [verdicts] = await threads.run("checks", [{ song, from, stretch }]).finally(threads.close);
  return { verdicts: verdicts! };
}
