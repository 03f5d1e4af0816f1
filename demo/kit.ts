import type { CymbalSpec, DrumSpec } from "./voices";

/** Metres: x to the drummer's right, y away from the drummer, z up. */
export type Point = readonly [number, number, number];

export interface PieceSpec {
  /** Name of the piece as in the song: kick, snare, tom1 … */
  piece: string;
  at: Point;
  /** Peak pressure of the hardest stroke at one metre, relative. */
  strength: number;
  drum?: DrumSpec;
  cymbal?: CymbalSpec;
  /** Where the second side radiates from (bottom head of a snare, front head of a kick). */
  otherSide?: Point;
}

export interface MicSpec {
  file: string;
  piece: string;
  place: string;
  /** One point a channel. */
  at: readonly Point[];
  /** Where it looks at. */
  aim: Point;
  /** 0: hears all around, 1: cardioid. */
  directivity: number;
  /** Which side of its own drum it hears: 0 or 1. */
  side: 0 | 1;
  /** Recorded upside down. */
  inverted: boolean;
  /** Frames by which the recorder delivered it late (fractional). */
  offset: number;
  /** Level of the loudest moment in the file, dBFS. */
  peakDb: number;
  /** Colour: gain in dB of a shelf from 4 kHz, and the mic's lower limit in Hz. */
  brightness: number;
  lowCut: number;
  /** Share of the room in it. */
  room: number;
  bits: 16 | 24 | 32;
  /** Its recorder clips this many dB under the loudest moment; 0: nowhere. */
  clip: number;
  /** Its recorder's clock runs fast by this many millionths: the file grows ever longer. */
  drift: number;
  /** Gain in dB on what it hears of other pieces, over what distance and aim give. */
  spill: Readonly<Record<string, number>>;
  /** dB by which its preamp is driven into rounding at the loudest moment; 0: not. */
  drive: number;
  /** dB that a fast compressor takes off its loud moments; 0: none. */
  squash: number;
}

const base = {
  directivity: 0.85,
  side: 0,
  inverted: false,
  offset: 0,
  brightness: 0,
  lowCut: 25,
  room: 0.02,
  bits: 24,
  clip: 0,
  drift: 0,
  spill: {},
  drive: 0,
  squash: 0,
} as const;

/** A mic with usual values for what is not told. */
export const mic = (
  file: string,
  piece: string,
  place: string,
  at: Point | readonly Point[],
  more: Partial<MicSpec> & { aim: Point },
): MicSpec => ({
  ...base,
  peakDb: -8,
  file,
  piece,
  place,
  at: (typeof at[0] === "number" ? [at] : at) as readonly Point[],
  ...more,
});

export interface Kit {
  pieces: PieceSpec[];
  mics: MicSpec[];
  /** Size of the room in metres, and its decay in s. */
  room: { size: Point; decay: number; absorption: number };
}

const hat: CymbalSpec = { lowest: 420, highest: 15000, modes: 90, decay: 0.35, ping: 0.9, seconds: 0.8 };
const ride: CymbalSpec = { lowest: 300, highest: 13000, modes: 110, decay: 1.3, ping: 1.4, seconds: 2.2 };
const crash: CymbalSpec = { lowest: 260, highest: 14000, modes: 140, decay: 1.5, ping: 0.5, seconds: 3 };

const still = { whistle: 0, whistleDecay: 0 };

/** The demo's kit in a ferry waiting room, 9 x 6.5 x 3.2 m; 13 mics with the faults of real life. */
export function demoKit(): Kit {
  const snare: Point = [-0.1, 0.25, 0.65];
  const kick: Point = [0.2, 0.75, 0.3];
  const tom1: Point = [0.0, 0.62, 0.85];
  const tom2: Point = [0.36, 0.64, 0.85];
  const floor: Point = [0.62, 0.22, 0.6];
  const hatAt: Point = [-0.48, 0.38, 0.85];
  const rideAt: Point = [0.72, 0.62, 0.95];
  const pieces: PieceSpec[] = [
    {
      piece: "kick",
      at: kick,
      otherSide: [0.2, 1.15, 0.3],
      strength: 1,
      drum: { tune: 54, decay: 0.13, ...still },
    },
    {
      piece: "snare",
      at: snare,
      otherSide: [-0.1, 0.25, 0.51],
      strength: 0.9,
      drum: { tune: 186, decay: 0.09, whistle: 3120, whistleDecay: 0.16 },
    },
    {
      piece: "tom1",
      at: tom1,
      strength: 0.8,
      drum: { tune: 112, decay: 0.24, whistle: 262, whistleDecay: 0.62 },
    },
    { piece: "tom2", at: tom2, strength: 0.8, drum: { tune: 96, decay: 0.26, ...still } },
    { piece: "floor", at: floor, strength: 0.85, drum: { tune: 78, decay: 0.32, ...still } },
    { piece: "hat", at: hatAt, strength: 0.34, cymbal: hat },
    { piece: "ride", at: rideAt, strength: 0.3, cymbal: ride },
    { piece: "crash", at: [-0.62, 0.85, 1.25], strength: 0.55, cymbal: crash },
  ];
  const near = (p: Point, dx: number, dy: number, dz: number): Point => [p[0] + dx, p[1] + dy, p[2] + dz];
  const mics: MicSpec[] = [
    mic("01 KD in.wav", "kick", "in", near(kick, 0.03, 0.12, 0.04), {
      aim: kick,
      peakDb: -5.5,
      brightness: 4,
    }),
    mic("02 KD out.wav", "kick", "out", [0.22, 1.34, 0.32], {
      aim: [0.2, 1.15, 0.3],
      side: 1,
      inverted: true,
      offset: 37.4,
      peakDb: -9,
    }),
    mic("03 SN top.wav", "snare", "top", near(snare, 0.06, 0.13, 0.06), {
      aim: snare,
      peakDb: -4.2,
      brightness: 2,
    }),
    mic("04 SN btm.wav", "snare", "bottom", [-0.05, 0.3, 0.42], {
      aim: [-0.1, 0.25, 0.51],
      side: 1,
      inverted: false,
      peakDb: -9.5,
      brightness: 3,
    }),
    mic("05 HH.wav", "hat", "close", near(hatAt, -0.07, 0.04, 0.13), { aim: hatAt, peakDb: -13, lowCut: 90 }),
    mic("06 rack.wav", "tom1", "close", near(tom1, -0.03, 0.12, 0.06), { aim: tom1, peakDb: -7 }),
    mic("07 mid tom.wav", "tom2", "close", near(tom2, 0.03, 0.12, 0.06), { aim: tom2, peakDb: -21 }),
    mic("08 floor.wav", "floor", "close", near(floor, 0.1, 0.1, 0.06), { aim: floor, peakDb: -6.5 }),
    mic("09 ride.wav", "ride", "close", near(rideAt, 0.06, 0.05, -0.14), {
      aim: rideAt,
      peakDb: -12,
      lowCut: 90,
    }),
    mic("10 OH L.wav", "overhead", "left", [-0.55, 0.45, 1.75], {
      aim: [-0.2, 0.45, 0.8],
      peakDb: -8,
      room: 0.1,
      brightness: 2,
    }),
    mic("11 OH R.wav", "overhead", "right", [0.75, 0.4, 1.7], {
      aim: [0.3, 0.45, 0.8],
      peakDb: -8.6,
      room: 0.1,
      brightness: 2,
    }),
    mic(
      "12 room.wav",
      "room",
      "pair",
      [
        [-1.2, 4.1, 1.5],
        [1.3, 4.2, 1.5],
      ],
      { aim: [0.1, 0.5, 0.7], directivity: 0.3, peakDb: -10, room: 0.5 },
    ),
    mic("13 far room.wav", "room", "close", [0.3, 5.3, 2.1], {
      aim: [0.1, 0.5, 0.7],
      directivity: 0,
      peakDb: -14,
      room: 0.8,
      brightness: -4,
    }),
  ];
  return { pieces, mics, room: { size: [6.5, 9, 3.2], decay: 0.65, absorption: 0.55 } };
}
