import { busInputKey } from "../../core/engine/busInput";
import { heardDrums } from "../../core/shape/heardDrums";
import { onThread } from "../analysis/threads";
import { AppError } from "../errors";
import { stretchOf, type MadeStretch } from "./stretchAround";

/**
 * What comes into a bus of the stored song, over the stretch with the most strokes of its drums.
 * `stands`: what the asker believes to feed the bus (`busInputKey`). Errors  AppError, "stale" where that is not saved.
 */
export async function busStretch(songId: string, id: string, stands: string): Promise<MadeStretch> {
  const { song, from, stretch } = await stretchOf(songId, (stored) => {
    const bus = stored.buses.find((b) => b.id === id);
    if (!bus) throw new AppError("not_found", "There is no such bus in this song.");
    if (busInputKey(stored, id) !== stands)
      throw new AppError("stale", `What goes into ${bus.name} has changed; ask again when it is saved.`);
    return heardDrums(stored, bus);
  });
  return { from, channels: await onThread("busInput", { song, bus: id, from, stretch }) };
}
