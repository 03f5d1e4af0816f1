import { kitOver } from "../engine/kitOver";
import { measureAudio } from "../measure/measureAudio";
import type { Song } from "../song/song";
import { checkKit, verdictsNow, type Verdict } from "./checks";

/** Verdicts on the kit over a stretch of the recording, worst first. Shape  as `kitOver`. */
export function checkStretch(
  song: Song,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): Verdict[] {
  const kit = kitOver(song, stretch, from);
  const measured = { kit: measureAudio(kit, song.sampleRate), checks: checkKit(kit, song.sampleRate) };
  return verdictsNow(song, measured);
}
