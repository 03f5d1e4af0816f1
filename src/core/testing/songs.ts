import { newMic, newSong } from "../song/create";
import type { Mic, Piece, Place, Song } from "../song/song";
import { noise } from "./signals";

// Songs for tests only.
export const testMic = (id: string, piece: Piece, place: Place, frames: number, channels = 1): Mic =>
  newMic({ id, file: `${id}.wav`, audio: `audio-${id}`, channels, frames, piece, place, sure: 1 });

/** A small song with a kick, a snare and a stereo overhead file of noise, and its audio. */
export function testSong(frames = 20000): { song: Song; audio: Float32Array[][] } {
  const mics = [
    testMic("kick", "kick", "in", frames),
    testMic("snare", "snare", "top", frames),
    testMic("oh", "overhead", "pair", frames, 2),
  ];
  const song: Song = {
    ...newSong("test", 48000, mics),
    hits: [
      { piece: "kick", time: 0.05, levelDb: -6, ghost: false, kind: "stroke", sure: 1 },
      { piece: "snare", time: 0.2, levelDb: -8, ghost: false, kind: "stroke", sure: 1 },
    ],
  };
  return { song, audio: [[noise(frames, 1)], [noise(frames, 2)], [noise(frames, 3), noise(frames, 4)]] };
}
