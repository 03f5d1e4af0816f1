import type { MaskingJudged } from "../../contract";
import { heardDrums } from "../../core/shape/heardDrums";
import { ownerOf, type Owner } from "../../core/song/graph";
import type { Song } from "../../core/song/song";
import { onThread } from "../analysis/threads";
import { AppError, refusal } from "../errors";
import { stretchOf } from "./stretchAround";

/**
 * Measures where a mic or bus covers another of the stored song, over the stretch with the most strokes of the drum that is
 * covered; of music beside the kit that of the drum that covers it. Errors  AppError.
 */
export async function judgeMasking(
  songId: string,
  { of, by }: { readonly of: string; readonly by: string },
): Promise<MaskingJudged> {
  const named = (song: Song, id: string): Owner => {
    const owner = ownerOf(song, id);
    if (!owner) throw new AppError("not_found", "There is no such mic or bus in this song.");
    return owner;
  };
  const { song, from, stretch } = await stretchOf(songId, (stored) => {
    const [covered, covers] = [named(stored, of), named(stored, by)];
    return heardDrums(stored, covered.piece === "context" ? covers : covered);
  });
  try {
    return await onThread("masking", { song, of, by, from, stretch });
  } catch (error) {
    throw refusal(error);
  }
}
