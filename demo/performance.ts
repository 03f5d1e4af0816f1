import { randomSource } from "../src/core/signal/random";
import { normal, type Random } from "./voices";

export interface Strike {
  piece: string;
  /** Instant at which the stick lands, s. */
  time: number;
  /** 0..1. */
  velocity: number;
  ghost: boolean;
  /** Decay to 1/e in s at which a hat or cymbal is held; 0: rings on. */
  choke: number;
  /** Another way to strike the piece: "stick", "open", "pedal", "bell"; absent: the usual one. */
  how?: string;
}

export interface Performance {
  bpm: number;
  beatsPerBar: number;
  firstBeat: number;
  beats: number[];
  seconds: number;
  sections: { name: string; fromBar: number; bars: number }[];
  strikes: Strike[];
}

/** The player's habits. */
export interface Feel {
  /** Deviation of every stroke, s. */
  spread: number;
  /** Habitual lateness of a piece, s. */
  lean: Record<string, number>;
  /** How much a fill runs ahead at its end, s. */
  rush: number;
  /** Level of ghost notes under the backbeat in dB, from and to. */
  ghostDb: readonly [number, number];
}

export const demoFeel: Feel = {
  spread: 0.005,
  lean: { snare: 0.006, hat: -0.002 },
  rush: 0.028,
  ghostDb: [-22, -16],
};

type Note = readonly [piece: string, sixteenth: number, velocity: number, choke?: number];

const hats = (step: number, open: readonly number[] = []): Note[] =>
  Array.from({ length: 16 / step }, (_, i) => {
    const at = i * step;
    return ["hat", at, at % 4 === 0 ? 0.95 : 0.8, open.includes(at) ? 0.22 : 0.045] as const;
  });
const ghosts = (...at: number[]): Note[] => at.map((s) => ["snare", s, -1] as const);

const verse: Note[][] = [
  [
    ...hats(2),
    ["kick", 0, 1],
    ["kick", 6, 0.85],
    ["kick", 10, 0.95],
    ["snare", 4, 0.97],
    ["snare", 12, 1],
    ...ghosts(7, 9, 15),
  ],
  [
    ...hats(2, [14]),
    ["kick", 0, 1],
    ["kick", 7, 0.8],
    ["kick", 10, 0.93],
    ["snare", 4, 0.96],
    ["snare", 12, 0.98],
    ...ghosts(3, 9, 11),
  ],
];
const chorus: Note[][] = [0, 1].map((n) => [
  ...Array.from({ length: 8 }, (_, i) => ["ride", 2 * i, i % 2 === 0 ? 0.95 : 0.82] as const),
  ["kick", 0, 1],
  ["kick", 3, 0.85],
  ["kick", 8, 0.95],
  ["kick", n === 0 ? 10 : 14, 0.9],
  ["snare", 4, 1],
  ["snare", 12, 1],
  ...(n === 0 ? [["crash", 0, 0.95] as const] : []),
]);
const bridge: Note[][] = [
  [
    ...hats(4),
    ["kick", 0, 0.95],
    ["kick", 8, 0.9],
    ["floor", 6, 0.8],
    ["floor", 14, 0.85],
    ["snare", 12, 0.93],
    ...ghosts(2, 10),
  ],
  [
    ...hats(4),
    ["kick", 0, 0.95],
    ["tom1", 6, 0.8],
    ["tom1", 7, 0.75],
    ["floor", 10, 0.85],
    ["snare", 4, 0.93],
    ["snare", 12, 0.95],
    ...ghosts(15),
  ],
];
const fill: Note[] = [
  ...hats(4).slice(0, 2),
  ["kick", 0, 1],
  ["snare", 4, 0.95],
  ["snare", 8, 0.9],
  ["snare", 9, 0.82],
  ["tom1", 10, 0.92],
  ["tom1", 11, 0.86],
  ["tom1", 12, 0.93],
  ["floor", 13, 0.9],
  ["floor", 14, 0.95],
  ["floor", 15, 0.97],
];

/** 6/8: twelve sixteenths in two dotted quarters. */
const compound: Note[][] = [0, 1].map((n) => [
  ...Array.from({ length: 6 }, (_, i) => ["hat", 2 * i, i % 3 === 0 ? 0.95 : 0.75, 0.045] as const),
  ["kick", 0, 1],
  ["snare", 6, 0.97],
  ...(n === 1 ? [["kick", 4, 0.85] as const] : []),
  ...ghosts(n === 0 ? 10 : 8),
]);
const compoundFill: Note[] = [
  ["kick", 0, 1],
  ["snare", 2, 0.9],
  ["snare", 4, 0.93],
  ...[6, 7].map((s) => ["tom1", s, 0.9] as const),
  ...[8, 9, 10, 11].map((s) => ["floor", s, 0.93] as const),
];
/** Kick and snare in turn on every sixteenth. */
const blast: Note[][] = [
  [
    ...Array.from({ length: 16 }, (_, s): Note => (s % 2 === 0 ? ["kick", s, 0.9] : ["snare", s, 0.85])),
    ...hats(4),
  ],
];
/** A snare that is only whispered at. */
const whispers: Note[][] = [
  [...hats(2), ["kick", 0, 0.9], ["kick", 8, 0.9], ...ghosts(3, 4, 7, 11, 12, 15)],
  [...hats(2), ["kick", 0, 0.9], ["kick", 10, 0.85], ...ghosts(4, 6, 9, 12, 14)],
];
/** Half time under a washing ride, crashes on every bar: cymbals as loud as anything. */
const wash: Note[][] = [
  [
    ...Array.from({ length: 8 }, (_, i) => ["ride", 2 * i, 1] as const),
    ["crash", 0, 1],
    ["crash", 8, 0.9],
    ["kick", 0, 1],
    ["kick", 6, 0.9],
    ["snare", 4, 1],
    ["snare", 12, 1],
    ["floor", 10, 0.85],
    ["tom1", 14, 0.85],
  ],
];

const patterns = { verse, chorus, bridge, compound, blast, whispers, wash };

/** One section: its bars cycle through patterns, the last bar may be the fill. */
export interface Part {
  name: string;
  bars: number;
  pattern: keyof typeof patterns;
  fill: boolean;
}

/** How bars are counted: beats to a bar, sixteenths to a beat (6 in compound meters). */
export interface Count {
  readonly beatsPerBar: number;
  readonly stepsPerBeat: number;
}
const fourFour: Count = { beatsPerBar: 4, stepsPerBeat: 4 };

/** Writes out a performance; the tempo is constant unless `bpmAt` tells one by beat. */
export function perform(
  parts: readonly Part[],
  bpm: number,
  firstBeat: number,
  feel: Feel,
  seed: number,
  { beatsPerBar, stepsPerBeat }: Count = fourFour,
  bpmAt: (beat: number) => number = () => bpm,
): Performance {
  const random: Random = randomSource(seed);
  const stepsPerBar = beatsPerBar * stepsPerBeat;
  const allBars = parts.reduce((sum, p) => sum + p.bars, 0);
  const beats = [firstBeat];
  for (let b = 0; b < allBars * beatsPerBar; b++) beats.push(beats[b]! + 60 / bpmAt(b));
  /** Instant of a step of the song, s. */
  const timeOf = (step: number): number => {
    const beat = Math.min(beats.length - 2, Math.floor(step / stepsPerBeat));
    return beats[beat]! + ((beats[beat + 1]! - beats[beat]!) * (step - beat * stepsPerBeat)) / stepsPerBeat;
  };
  const strikes: Strike[] = [];
  const sections: Performance["sections"] = [];
  let bar = 0;
  let foot = 0;
  for (const part of parts) {
    sections.push({ name: part.name, fromBar: bar, bars: part.bars });
    for (let b = 0; b < part.bars; b++, bar++) {
      const isFill = part.fill && b === part.bars - 1;
      const cycle = patterns[part.pattern];
      const fillOf = part.pattern === "compound" ? compoundFill : fill;
      for (const [piece, step, wanted, choke] of isFill ? fillOf : cycle[b % cycle.length]!) {
        const ghost = wanted < 0;
        let velocity = ghost
          ? 1 + (feel.ghostDb[0] + random() * (feel.ghostDb[1] - feel.ghostDb[0])) / 40
          : wanted;
        // One uneven foot: every second kick is weaker.
        if (piece === "kick" && foot++ % 2 === 1) velocity -= 0.08;
        if (!ghost) velocity = Math.min(1, Math.max(0.3, velocity + 0.025 * normal(random)));
        const ahead = isFill && step >= 8 ? (feel.rush * (step - 7)) / 8 : 0;
        const time =
          timeOf(bar * stepsPerBar + step) + feel.spread * normal(random) + (feel.lean[piece] ?? 0) - ahead;
        strikes.push({ piece, time: Math.max(0.01, time), velocity, ghost, choke: choke ?? 0 });
      }
    }
  }
  // The end: a last stroke of everything that rings.
  const end = beats[beats.length - 1]!;
  for (const piece of ["kick", "crash", "snare"])
    strikes.push({ piece, time: end + 0.004 * normal(random), velocity: 0.98, ghost: false, choke: 0 });
  strikes.sort((a, b) => a.time - b.time);
  return { bpm, beatsPerBar, firstBeat, beats, seconds: end + 3.2, sections, strikes };
}

/** The demo song, about 75 seconds at 104 beats a minute. */
export const demoPerformance = (): Performance =>
  perform(
    [
      { name: "Quay", bars: 8, pattern: "verse", fill: true },
      { name: "Whistle", bars: 8, pattern: "chorus", fill: true },
      { name: "Ebb", bars: 6, pattern: "bridge", fill: true },
      { name: "Last boat", bars: 8, pattern: "chorus", fill: true },
    ],
    104,
    0.612,
    demoFeel,
    20,
  );
