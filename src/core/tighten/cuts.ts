import { checkEdits } from "../song/edits";
import { applyOperation, type Operation, type SongValues } from "../song/operations";
import { isKitMic, type Mic, type Song } from "../song/song";
import { aloneOperations } from "./alone";
import { joinSeams, type Material } from "./material";
import { planSeams } from "./planEdits";

/**
 * The cuts of a song with new strokes, beats or settings, its joints chosen by the recording, as one operation. The one
 * pipeline behind the application's Tighten and the command line's mix.
 * Errors   `TypeError` where the cuts that follow could not be stored.
 */
export async function cutOperation(
  song: Song,
  values: Pick<SongValues, "tempo" | "tighten" | "hits" | "detection">,
  materialOf: (mics: readonly Mic[]) => Material | Promise<Material>,
  progress?: (share: number) => void,
): Promise<Operation> {
  const changed: Song = { ...song, ...values };
  // Mics that are cut with the kit and have something to say.
  const material = (mics: readonly Mic[]) =>
    materialOf(mics.filter((m) => !m.silent && !m.layer && isKitMic(changed, m)));
  const seams = planSeams(changed);
  const edits =
    seams.length > 0 ? await joinSeams(seams, await material(song.mics), song.sampleRate, progress) : [];
  checkEdits(edits, "the song");
  const set: Operation = { op: "setSong", values: { ...values, edits } };
  const alone = await aloneOperations(applyOperation(song, set).song, async (mics) => material(mics));
  return { op: "several", operations: [set, ...alone] };
}
