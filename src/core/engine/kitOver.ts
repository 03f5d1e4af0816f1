import type { Song } from "../song/song";
import { blockwise } from "./blockwise";
import { Engine } from "./engine";

/**
 * The kit over a stretch of the recording, as it goes on behind its fader, latency taken off; nothing is cut.
 * Shape   stretch [mic][channel] as recorded, from song frame `from` on; two channels come back.
 */
export function kitOver(
  song: Song,
  stretch: readonly (readonly Float32Array[])[],
  from: number,
): Float32Array[] {
  const engine = Engine.of({ ...song, edits: [], mics: song.mics.map((m) => ({ ...m, ownEdits: [] })) });
  engine.reset(from);
  return blockwise(stretch, engine.mixer.latency, (block, at) => {
    engine.process(block, from + at);
    return [engine.mixer.output];
  })[0]!;
}
