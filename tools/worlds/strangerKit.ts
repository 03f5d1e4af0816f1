// A stranger's kit: other geometry, bleed, preamps and names than the demo's.
import { demoKit, mic, type Kit, type MicSpec, type Point } from "../../demo/kit";
import { buzz } from "../../demo/simulate";
import { diceOf, type Dice } from "./dice";
import { strangerNames } from "./strangerNames";

type Pieces = Kit["pieces"];

/** Pieces where this drummer has them; wires below the snare, and both sides of what is struck from one. */
function strangerPieces({ between }: Dice, hard: boolean): Pieces {
  const { pieces } = demoKit();
  const move = (p: Point, by: number): Point => [
    p[0] + between(-by, by),
    p[1] + between(-by, by),
    p[2] + between(-by, by),
  ];
  for (const p of pieces) {
    p.at = move(p.at, 0.05);
    if (p.piece === "hat") p.strength = between(0.25, hard ? 0.9 : 0.5);
    else if (["ride", "crash"].includes(p.piece)) p.strength = between(0.2, 0.5);
    else p.strength = between(0.7, 1);
  }
  const piece = (name: string) => pieces.find((p) => p.piece === name)!;
  const [snare, kick] = [piece("snare"), piece("kick")];
  const below: Point = [snare.at[0], snare.at[1], snare.at[2] - 0.14];
  pieces.push({ piece: buzz, at: [...below], strength: between(0.01, 0.05) });
  snare.otherSide = below;
  kick.otherSide = [kick.at[0], kick.at[1] + 0.4, kick.at[2]];
  return pieces;
}

/** Close mics of the drums that have one. */
function closeMics({ random, between }: Dice, pieces: Pieces, name: (role: string) => string): MicSpec[] {
  const piece = (wanted: string) => pieces.find((p) => p.piece === wanted)!;
  const at = (wanted: string) => piece(wanted).at;
  const near = (p: Point, dx: number, dy: number, dz: number): Point => [
    p[0] + dx + between(-0.03, 0.03),
    p[1] + dy + between(-0.03, 0.03),
    p[2] + dz + between(-0.02, 0.03),
  ];
  const mics: MicSpec[] = [];
  const close = (of: string, place: string, point: Point, aim: Point, more: Partial<MicSpec> = {}) =>
    mics.push(
      mic(name(`${of}/${place}`), of, place, point, {
        aim,
        peakDb: between(-13, -3),
        brightness: between(-4, 6),
        lowCut: between(20, 70),
        directivity: between(0.5, 0.9),
        ...more,
      }),
    );
  const [front, wires] = [piece("kick").otherSide!, piece("snare").otherSide!];
  close("kick", "in", near(at("kick"), 0.03, 0.14, 0.03), at("kick"));
  if (random() < 0.75) close("kick", "out", near(front, 0, 0.22, 0.02), front, { side: 1 });
  close("snare", "top", near(at("snare"), 0.05, 0.1, 0.06), at("snare"));
  if (random() < 0.85)
    close("snare", "bottom", near(wires, 0.03, 0.05, -0.09), wires, { side: 1, lowCut: between(30, 120) });
  if (random() < 0.8)
    close("hat", "close", near(at("hat"), -0.06, 0.05, 0.13), at("hat"), { lowCut: between(40, 180) });
  const racks = random() < 0.6 ? ["tom1", "tom2", "floor"] : ["tom1", "floor"];
  for (const tom of racks) close(tom, "close", near(at(tom), 0.02, 0.11, 0.06), at(tom));
  if (random() < 0.45)
    close("ride", "close", near(at("ride"), 0.04, 0.06, random() < 0.6 ? 0.13 : -0.14), at("ride"), {
      lowCut: between(40, 180),
    });
  return mics;
}

/** Overheads of one of several kinds, as a pair or apart, and mostly a room. */
function farMics({ random, between }: Dice, pieces: Pieces, name: (role: string) => string): MicSpec[] {
  const snareAt = pieces.find((p) => p.piece === "snare")!.at;
  const room = between(0.05, 0.2);
  const style = random();
  const [x, y, z] = [style < 0.3 ? 0.02 : between(0.4, 0.8), between(0.3, 0.7), between(1.6, 2.1)];
  const sides = (["left", "right"] as const).map((place, n): [string, Point, Point] => {
    const side = n === 0 ? -1 : 1;
    const uneven = style > 0.8 && n === 1;
    return [
      place,
      uneven ? [0.85, 0.1, 1.05] : [side * x, y, z],
      style < 0.3 ? [side, y + 0.1, z - 1] : uneven ? snareAt : [side * x * 0.8, y, 0.7],
    ];
  });
  const far = {
    room,
    directivity: 0.85,
    brightness: between(-2, 4),
    lowCut: between(20, 90),
    peakDb: between(-12, -4),
  };
  const overhead = (place: string, at: Point | Point[], aim: Point) =>
    mic(name(`overhead/${place}`), "overhead", place, at, { ...far, aim });
  const middle: Point = [0.1, 0.4, 0.8];
  const mics =
    random() < 0.35
      ? [
          overhead(
            "pair",
            sides.map(([, at]) => at),
            middle,
          ),
        ]
      : sides.map((side) => overhead(...side));
  if (random() < 0.6) mics.push(roomMic({ random, between }, name("room/pair")));
  return mics;
}

const roomMic = ({ random, between }: Pick<Dice, "random" | "between">, file: string): MicSpec =>
  mic(
    file,
    "room",
    "pair",
    [
      [-1.1, between(2.8, 4.4), 1.4],
      [1.2, between(2.8, 4.4), 1.5],
    ],
    {
      aim: [0.1, 0.5, 0.7],
      directivity: 0.3,
      room: between(0.3, 0.7),
      peakDb: between(-14, -6),
      squash: random() < 0.5 ? between(4, 14) : 0,
    },
  );

/** What bleed, preamps, wiring and recorder do to a mic. */
function wear(m: MicSpec, { random, between }: Dice, pieces: Pieces, hard: boolean): void {
  if (m.room < 0.05) {
    const loud = hard ? between(2, 7) : between(-4, 4);
    m.spill = Object.fromEntries(
      pieces.map((p) => [p.piece, loud + between(-3, 3) + (m.piece === "hat" ? between(0, 6) : 0)]),
    );
    m.drive = random() < 0.25 ? between(1, 6) : 0;
    m.clip = random() < (hard ? 0.15 : 0.05) ? between(0.5, 3) : 0;
  }
  m.inverted = random() < 0.12;
  m.offset = random() < (hard ? 0.3 : 0.1) && m.place !== "top" ? between(-90, 90) : 0;
  m.bits = random() < 0.6 ? 24 : random() < 0.5 ? 16 : 32;
}

/** Where everything stands, how loudly it bleeds, and what preamps and recorder do to it. */
export function strangerKit(seed: number, hard: boolean): Kit {
  const dice = diceOf(seed * 9973 + 17);
  const { random, between } = dice;
  const pieces = strangerPieces(dice, hard);
  const scheme = Math.floor(random() * 8);
  const name = (role: string) => `${strangerNames[role]![scheme]!}.wav`;
  const close = closeMics(dice, pieces, name);
  const mics = [...close, ...farMics(dice, pieces, name)];
  for (const m of mics) wear(m, dice, pieces, hard);
  const miked = new Set(close.map((m) => m.piece));
  return {
    pieces: pieces.filter((p) => p.piece !== "tom2" || miked.has("tom2")),
    mics,
    room: {
      size: [between(4, 8), between(5, 9), between(2.4, 3.6)] as Point,
      decay: between(0.25, 1.4),
      absorption: between(0.35, 0.6),
    },
  };
}
