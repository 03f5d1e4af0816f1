import { designPass2, filtered } from "../signal/biquad";
import { gainToDb, peakOf } from "../signal/level";
import { randomSource } from "../signal/random";
import type { Piece } from "../song/song";
import type { ShotAudio } from "./joinShots";

/** One-shots that are made from sines and noise, so that there is something to try layers with. */
export const madeKinds = ["kick", "snare", "clap", "hat", "tom"] as const;
export type MadeKind = (typeof madeKinds)[number];

/** The made sound that fits a drum. */
export const madeFor = (drum: Piece): MadeKind =>
  drum === "kick" || drum === "snare" ? drum : ["hat", "ride", "crash"].includes(drum) ? "hat" : "tom";

/** Seconds of a made sound. */
const lengths: Readonly<Record<MadeKind, number>> = {
  kick: 0.4,
  snare: 0.3,
  clap: 0.25,
  hat: 0.12,
  tom: 0.5,
};

/** Alternates that differ as strokes of one player do, and how far apart they lie, dB. */
const alternates = 3;
const apartDb = 1;

type Voice = (t: number, noise: number) => number;
const falling = (t: number, tau: number): number => Math.exp(-t / tau);
/** A membrane whose tone falls from `from` to `to` Hz within `tau` s. */
const membrane = (from: number, to: number, tau: number, decay: number): Voice => {
  const phase = (t: number) => 2 * Math.PI * (to * t + (from - to) * tau * (1 - falling(t, tau)));
  return (t) => Math.sin(phase(t)) * falling(t, decay);
};

function voiceOf(kind: MadeKind, vary: number): Voice {
  const body = membrane(...tones[kind], 0.02, decays[kind] * (1 + 0.05 * vary));
  const claps = [0, 0.011, 0.022, 0.034];
  switch (kind) {
    case "kick":
      return (t, noise) => 0.9 * body(t, 0) + 0.25 * noise * falling(t, 0.004);
    case "snare":
      return (t, noise) => 0.5 * body(t, 0) + 0.5 * noise * falling(t, 0.06 * (1 + 0.1 * vary));
    case "clap":
      return (t, noise) =>
        0.6 *
        noise *
        claps.reduce((sum, c) => sum + (t >= c ? falling(t - c, c < 0.03 ? 0.005 : 0.05) : 0), 0);
    case "hat":
      return (t, noise) => 0.5 * noise * falling(t, 0.025 * (1 + 0.1 * vary));
    case "tom":
      return (t, noise) => 0.8 * body(t, 0) + 0.1 * noise * falling(t, 0.01);
  }
}
const tones: Readonly<Record<MadeKind, [number, number]>> = {
  kick: [160, 52],
  snare: [230, 185],
  clap: [200, 200],
  hat: [300, 300],
  tom: [170, 110],
};
const decays: Readonly<Record<MadeKind, number>> = {
  kick: 0.12,
  snare: 0.06,
  clap: 0.05,
  hat: 0.02,
  tom: 0.15,
};
/** Noise of cymbals and claps begins here, Hz. */
const highs: Readonly<Record<MadeKind, number>> = { kick: 1500, snare: 700, clap: 900, hat: 7000, tom: 1500 };

/** Alternates of a made one-shot. */
export function madeShots(kind: MadeKind, sampleRate: number): ShotAudio[] {
  return Array.from({ length: alternates }, (_, n): ShotAudio => {
    const random = randomSource(11 + n);
    const frames = Math.round(lengths[kind] * sampleRate);
    const white = Float32Array.from({ length: frames }, () => 2 * random() - 1);
    const noise = filtered(white, [designPass2("high", highs[kind], Math.SQRT1_2, sampleRate)]);
    const voice = voiceOf(kind, n - 1);
    const end = frames - Math.round(0.02 * sampleRate);
    const audio = noise.map((v, i) => voice(i / sampleRate, v) * Math.min(1, (frames - i) / (frames - end)));
    const gain = 10 ** (-(apartDb * n) / 20) / (1.4 * peakOf(audio));
    for (let i = 0; i < frames; i++) audio[i]! *= gain;
    return {
      name: `Made-up ${kind} ${n + 1}`,
      audio: [audio],
      onset: 0,
      levelDb: gainToDb(peakOf(audio)),
      cleanDb: null,
      ghost: false,
      on: true,
    };
  });
}
