import { writeWav } from "../src/core/file/wavWrite";
import { madeShots, type MadeKind } from "../src/core/layers/madeShots";
import { dbToGain } from "../src/core/signal/level";
import { randomSource } from "../src/core/signal/random";

/** Title of the second demo song: a beat put together from a baked loop and one-shots, over bass and pad. */
export const beatTitle = "Tin Awning";
export const beatSampleRate = 48000;

const bpm = 92;
const bars = 8;
/** Where the second of two sixteenths lies: swung. */
const swing = 0.56;
const beat = 60 / bpm;
const sixteenth = (n: number): number => (Math.floor(n / 2) * 0.5 + (n % 2) * 0.5 * swing) * beat;

/** A bar of the loop in sixteenths: which, how loud, dB. */
const bar: Readonly<Record<"kick" | "snare" | "hat", readonly (readonly [at: number, levelDb: number])[]>> = {
  kick: [
    [0, 0],
    [3, -4],
    [10, -1],
  ],
  snare: [
    [4, 0],
    [12, 0],
    [15, -14],
  ],
  hat: Array.from({ length: 8 }, (_, i) => [2 * i, i % 2 === 0 ? -3 : -8] as const),
};

export interface BeatStroke {
  readonly drum: "kick" | "snare" | "hat";
  readonly time: number;
  readonly ghost: boolean;
}
export interface BeatFile {
  readonly file: string;
  readonly channels: Float32Array[];
}

const frames = Math.ceil((bars * 4 * beat + 1) * beatSampleRate);

/** Adds a one-shot to both channels, `right` of the middle by so much, -1..1. */
function add(into: readonly Float32Array[], shot: Float32Array, time: number, gain: number, right = 0): void {
  const at = Math.round(time * beatSampleRate);
  into.forEach((y, ch) => {
    const side = Math.SQRT2 * Math.sin((Math.PI / 4) * (ch === 0 ? 1 - right : 1 + right));
    for (let i = 0; i < shot.length && at + i < y.length; i++) y[at + i]! += gain * side * shot[i]!;
  });
}

/** The drums of the loop, each by itself, and where they are struck. */
function drums(): { stems: Record<BeatStroke["drum"], Float32Array[]>; strokes: BeatStroke[] } {
  const random = randomSource(5);
  const pair = () => [new Float32Array(frames), new Float32Array(frames)];
  const stems = { kick: pair(), snare: pair(), hat: pair() };
  const strokes: BeatStroke[] = [];
  for (const drum of ["kick", "snare", "hat"] as const) {
    const shots = madeShots(drum as MadeKind, beatSampleRate).map((s) => s.audio[0]!);
    const level = drum === "hat" ? -17 : -5;
    for (let b = 0; b < bars; b++)
      bar[drum].forEach(([at, levelDb], n) => {
        if (drum === "kick" && b % 4 === 3 && n === 1) return;
        const time = b * 4 * beat + sixteenth(at) + 0.1;
        add(
          stems[drum],
          shots[(b + n) % shots.length]!,
          time,
          dbToGain(level + levelDb + random() - 0.5),
          drum === "hat" ? 0.3 : 0,
        );
        strokes.push({ drum, time, ghost: drum === "snare" && levelDb < -12 });
      });
  }
  return { stems, strokes: strokes.sort((a, b) => a.time - b.time) };
}

const tone = (f: number, t: number): number => Math.sin(2 * Math.PI * f * t);
/** Root notes of the bars, Hz. */
const roots = [55, 55, 65.41, 49];

/** A bass that holds the root of every bar, and plays it anew on the kick. */
function bass(): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => {
    const t = i / beatSampleRate;
    const root = roots[Math.floor(t / (4 * beat)) % roots.length]!;
    const since = t % (1.5 * beat);
    return (
      0.28 * Math.exp(-since / 0.5) * (tone(root, t) + 0.4 * tone(2 * root, t) + 0.15 * tone(3 * root, t))
    );
  });
}
/** A pad of three notes that beat slowly against each other. */
function pad(): Float32Array[] {
  return [0, 1].map((ch) =>
    Float32Array.from({ length: frames }, (_, i) => {
      const t = i / beatSampleRate;
      const root = 4 * roots[Math.floor(t / (4 * beat)) % roots.length]!;
      const sum = [1, 1.189, 1.498].reduce(
        (s, r, n) => s + tone(root * r * (1 + 0.0015 * (ch ? n : -n)), t),
        0,
      );
      return 0.05 * sum * (0.8 + 0.2 * tone(0.25, t + ch));
    }),
  );
}

/** The second demo song's files, and what is true of the loop; made the same every time. */
export function makeBeat(): {
  files: BeatFile[];
  strokes: BeatStroke[];
  stems: Record<BeatStroke["drum"], Float32Array[]>;
} {
  const { stems, strokes } = drums();
  const loop = [0, 1].map((ch) =>
    Float32Array.from({ length: frames }, (_, i) => {
      const sum = stems.kick[ch]![i]! + stems.snare[ch]![i]! + stems.hat[ch]![i]!;
      return Math.tanh(1.2 * sum) / 1.2; // baked: driven as a whole
    }),
  );
  const shots = (kind: MadeKind) => {
    const made = madeShots(kind, beatSampleRate).map((s) => s.audio[0]!);
    const gap = Math.round(0.3 * beatSampleRate);
    const y = new Float32Array(made.reduce((n, s) => n + s.length + gap, 0));
    made.reduce((at, s) => (y.set(s, at), at + s.length + gap), 0);
    return y;
  };
  return {
    strokes,
    stems,
    files: [
      { file: "Break loop.wav", channels: loop },
      { file: "Clap samples.wav", channels: [shots("clap")] },
      { file: "Kick one-shots.wav", channels: [shots("kick")] },
      { file: "Bass.wav", channels: [bass()] },
      { file: "Pad.wav", channels: pad() },
    ],
  };
}

/** The bytes of one file. */
export const beatBytes = ({ channels }: BeatFile): Uint8Array =>
  writeWav({ sampleRate: beatSampleRate, channels }, "wav24");
