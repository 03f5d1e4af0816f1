import { measureBleed } from "../bleed/measureBleed";
import { newSong } from "../song/create";
import type { Hit, Song } from "../song/song";
import { noise } from "./signals";
import { testMic } from "./songs";

/** Gain by which each mic hears the other drum: -15 dB. */
export const bleedGain = 10 ** (-15 / 20);

/**
 * Two drums of filtered noise that play in turn and, at every fourth stroke, together, each in a mic of its own that hears
 * the other 15 dB down; a pair of overheads hears both. For tests only.
 */
export function bleedSong(rate = 48000): { song: Song; audio: Float32Array[][]; own: Float32Array[] } {
  const seconds = 10;
  const frames = seconds * rate;
  const strike = (x: Float32Array, time: number, seed: number, low: boolean) => {
    let held = 0;
    noise(0.15 * rate, seed).forEach((v, i) => {
      held += 0.1 * (v - held);
      x[Math.round(time * rate) + i]! += (low ? 3 * held : v) * Math.exp(-i / (0.03 * rate));
    });
  };
  const [kick, snare] = [new Float32Array(frames), new Float32Array(frames)];
  const hits: Hit[] = [];
  const stroke = (piece: "kick" | "snare", time: number) =>
    hits.push({ piece, time, levelDb: -6, ghost: false, kind: "stroke", sure: 1 });
  for (let i = 0; i < 18; i++) {
    const time = 0.3 + 0.5 * i;
    if (i % 2 === 0 || i % 4 === 3) {
      strike(kick, time, i + 1, true);
      stroke("kick", time);
    }
    if (i % 2 === 1) {
      strike(snare, time, i + 100, false);
      stroke("snare", time);
    }
  }
  const sum = (a: Float32Array, b: Float32Array, ga: number, gb: number) =>
    a.map((v, i) => ga * v + gb * b[i]!);
  const audio = [
    [sum(kick, snare, 1, bleedGain)],
    [sum(snare, kick, 1, bleedGain)],
    [sum(kick, snare, 0.2, 0.2), sum(kick, snare, 0.2, 0.25)],
  ];
  const mics = [
    testMic("kick", "kick", "in", frames),
    testMic("snare", "snare", "top", frames),
    testMic("oh", "overhead", "pair", frames, 2),
  ];
  const plain = { ...newSong("bleed", rate, mics), hits };
  return {
    song: { ...plain, bleed: measureBleed({ mics, audio, hits, sampleRate: rate }) },
    audio,
    own: [kick, snare],
  };
}
