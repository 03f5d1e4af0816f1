import { memoryReader, renderSong } from "../engine/renderSong";
import type { Song } from "../song/song";

/** The first `frames` frames of the kit of a song, left then right. For tests only. */
export async function renderedKit(
  song: Song,
  audio: readonly (readonly Float32Array[])[],
  frames: number,
): Promise<Float32Array> {
  const kit = new Float32Array(2 * frames);
  let at = 0;
  await renderSong(
    song,
    memoryReader(audio),
    { kit: true, stems: false, buses: false },
    (_, channels, count) => {
      const n = Math.max(0, Math.min(count, frames - at));
      channels.forEach((x, ch) => kit.set(x.subarray(0, n), ch * frames + at));
      at += n;
    },
  );
  return kit;
}
