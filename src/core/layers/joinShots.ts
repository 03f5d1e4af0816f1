import type { OneShot } from "../song/song";

/** A sound that is to become part of a layer. */
export interface ShotAudio {
  readonly name: string;
  readonly audio: readonly Float32Array[];
  readonly onset: number;
  readonly levelDb: number;
  readonly cleanDb: number | null;
  readonly ghost: boolean;
  readonly on: boolean;
}

/** Silence between two sounds of a file, frames: a reader that looks beyond one hears nothing of the next. */
const gapFrames = 256;

/** Sounds one after another in one file, and where each lies. One channel when all have one, else two. */
export function joinShots(shots: readonly ShotAudio[]): { channels: Float32Array[]; sounds: OneShot[] } {
  const width = shots.some((s) => s.audio.length > 1) ? 2 : 1;
  const total = shots.reduce((n, s) => n + s.audio[0]!.length + gapFrames, 0);
  const channels = Array.from({ length: width }, () => new Float32Array(total));
  let at = 0;
  const sounds = shots.map(({ audio, ...shot }): OneShot => {
    const from = at;
    const frames = audio[0]!.length;
    channels.forEach((y, ch) => y.set(audio[Math.min(ch, audio.length - 1)]!, from));
    at += frames + gapFrames;
    return { ...shot, from, frames };
  });
  return { channels, sounds };
}
