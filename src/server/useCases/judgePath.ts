import type { PathJudged } from "../../contract";
import { drumPieces } from "../../core/song/song";
import { onThread } from "../analysis/threads";
import { AppError } from "../errors";
import { stretchOf } from "./stretchAround";

/** Measures what a path of the stored song brings to the kit, over the stretch with the most strokes. Errors  AppError. */
export async function judgePath(songId: string, bus: string): Promise<PathJudged> {
  const { song, from, stretch } = await stretchOf(songId, (stored) => {
    if (!stored.buses.some((b) => b.id === bus && b.output !== null))
      throw new AppError("not_found", "There is no such path in this song.");
    return drumPieces;
  });
  return onThread("path", { song, bus, from, stretch });
}
