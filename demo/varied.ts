import { randomSource } from "../src/core/signal/random";
import { demoKit, type Kit, type Point } from "./kit";
import { perform, type Part, type Performance } from "./performance";

const schemes: Record<string, string[]> = {
  kickIn: ["Kick In", "BD_in", "kik inside", "KD-IN", "01_Kick"],
  kickOut: ["Kick Out", "BD_out", "kik outside", "KD-OUT", "02_KickOut"],
  snareTop: ["Snare Top", "SN_T", "Snr up", "SD-TOP", "03_Snare"],
  snareBottom: ["Snare Bottom", "SN_B", "Snr under", "SD-BTM", "04_SnareBot"],
  hat: ["HiHat", "HH", "hat", "Hi-Hat", "05_Hats"],
  tom1: ["Tom 1", "T1", "rack tom", "TOM-HI", "06_Tom1"],
  tom2: ["Tom 2", "T2", "mid tom", "TOM-MID", "07_Tom2"],
  floor: ["Floor Tom", "FT", "floor", "FLOOR", "08_FloorTom"],
  ride: ["Ride", "RD", "ride cym", "RIDE", "09_Ride"],
  ohL: ["Overhead L", "OH_L", "overheads left", "OHL", "10_OverheadLeft"],
  ohR: ["Overhead R", "OH_R", "overheads right", "OHR", "11_OverheadRight"],
  room: ["Room", "RM", "room st", "ROOM", "12_Rooms"],
  far: ["Room Mono", "RM far", "amb mono", "AMB", "13_RoomFar"],
};

/**
 * A kit, room and playing of its own for every seed, with its own names, faults and recorder offsets.
 * Used to test on recordings other than the demo; `scheme` picks a way of naming files (0..4).
 */
export function variedKit(seed: number, bars = 12): { kit: Kit; song: Performance } {
  const random = randomSource(seed * 7919 + 11);
  const between = (a: number, b: number) => a + random() * (b - a);
  const kit = demoKit();
  const jitter = (p: Point, by: number): Point => [
    p[0] + between(-by, by),
    p[1] + between(-by, by),
    p[2] + between(-by, by),
  ];
  for (const piece of kit.pieces) {
    piece.strength *= between(0.8, 1.25);
    if (piece.drum) {
      piece.drum.tune *= between(0.85, 1.2);
      piece.drum.decay *= between(0.7, 1.4);
      if (random() < 0.5) piece.drum.whistle = 0;
    }
  }
  const names = Object.values(schemes);
  const scheme = Math.floor(random() * 5);
  kit.mics.forEach((m, i) => {
    m.file = `${names[i]![scheme]!}.wav`;
    m.at = m.at.map((p) => jitter(p, m.room > 0.05 ? 0.15 : 0.012));
    m.brightness += between(-4, 4);
    m.lowCut *= between(0.8, 2);
    m.peakDb += between(-5, 3);
    m.offset = i % 2 === 1 && random() < 0.6 ? between(-100, 100) : 0;
    m.inverted = random() < 0.2;
    m.bits = random() < 0.5 ? 24 : 16;
  });
  const spare = random() < 0.5;
  if (!spare) kit.mics.splice(6, 1);
  kit.room.decay = between(0.3, 0.9);
  const feel = {
    spread: between(0.003, 0.008),
    lean: { snare: between(-0.006, 0.008) },
    rush: between(0, 0.03),
    ghostDb: [between(-25, -21), between(-19, -15)] as const,
  };
  const bpm = Math.round(between(78, 148) * 2) / 2;
  const third = Math.max(1, Math.round(bars / 3));
  const song = perform(
    [
      { name: "A", bars: third, pattern: "verse", fill: true },
      { name: "B", bars: third, pattern: random() < 0.5 ? "chorus" : "verse", fill: true },
      { name: "C", bars: third, pattern: random() < 0.5 ? "bridge" : "verse", fill: true },
    ],
    bpm,
    between(0.3, 1.2),
    feel,
    seed,
  );
  return { kit, song };
}

/**
 * A recording that makes it hard: loud bleed, mics of very different tone, recorder offsets on half of the files, clipping,
 * flams, other numbers of mics, in a third of them a recorder whose clock runs off.
 */
export function hardKit(seed: number, bars = 12): { kit: Kit; song: Performance } {
  const { kit, song } = variedKit(seed + 5000, bars);
  const random = randomSource(seed * 6607 + 3);
  const between = (a: number, b: number) => a + random() * (b - a);
  for (const piece of kit.pieces) if (piece.piece === "hat") piece.strength *= between(1.5, 3);
  const drift = random() < 0.33 ? between(8, 40) * (random() < 0.5 ? -1 : 1) : 0;
  const droppable = ["kick/out", "snare/bottom", "ride/close", "room/pair", "room/close"].filter(
    () => random() < 0.3,
  );
  kit.mics = kit.mics.filter((m) => !droppable.includes(`${m.piece}/${m.place}`));
  const [left, right] = ["left", "right"].map((place) => kit.mics.find((m) => m.place === place)!);
  if (random() < 0.4) {
    const pair = {
      ...left!,
      file: left!.file.replace(/ ?_?L(eft)?\.|left\./, "."),
      place: "pair",
      at: [...left!.at, ...right!.at],
    };
    kit.mics = kit.mics.flatMap((m) => (m === left ? [pair] : m === right ? [] : [m]));
  }
  for (const m of kit.mics) {
    const far = m.room > 0.05;
    m.directivity = far ? m.directivity : between(0.5, 0.85);
    m.brightness += between(-6, 6);
    m.lowCut = between(25, m.side === 1 || far ? 140 : 60);
    m.offset = random() < 0.5 ? between(-100, 100) : 0;
    m.clip = !far && random() < 0.2 ? between(1, 4) : 0;
    if (far && drift !== 0) m.drift = drift;
  }
  const flams = song.strikes
    .filter((s) => s.piece === "snare" && !s.ghost && random() < 0.12)
    .map((s) => ({ ...s, time: s.time - between(0.018, 0.032), velocity: s.velocity * 0.35, ghost: true }));
  song.strikes = [...song.strikes, ...flams].sort((a, b) => a.time - b.time);
  return { kit, song };
}

/** Ways of playing that are hard in their own way. */
export const styles = ["compound", "wash", "whispers", "blast", "drifting", "fast", "slow"] as const;
export type Style = (typeof styles)[number];

/** A varied kit played in a style of its own: 6/8, heavy cymbals, only ghost notes, blast beats, a tempo that wanders. */
export function styledKit(seed: number, style: Style): { kit: Kit; song: Performance } {
  const { kit } = variedKit(seed);
  const random = randomSource(seed * 4241 + styles.indexOf(style));
  const between = (a: number, b: number) => a + random() * (b - a);
  const bpm = {
    compound: between(70, 100),
    wash: between(80, 120),
    whispers: between(80, 120),
    blast: 220,
    drifting: between(90, 130),
    fast: between(150, 180),
    slow: between(70, 80),
  }[style];
  const pattern: Part["pattern"] =
    style === "compound" || style === "wash" || style === "whispers" || style === "blast" ? style : "verse";
  const steady = pattern !== "verse";
  const parts: Part[] = [
    { name: "A", bars: 6, pattern, fill: style !== "whispers" && style !== "blast" },
    {
      name: "B",
      bars: 6,
      pattern: steady ? pattern : "chorus",
      fill: style !== "whispers" && style !== "blast",
    },
  ];
  const feel = {
    spread: style === "blast" ? 0.003 : between(0.004, 0.009),
    lean: { snare: between(-0.004, 0.006) },
    rush: style === "blast" ? 0 : between(0, 0.02),
    ghostDb: [-25, -15] as const,
  };
  const count =
    style === "compound" ? { beatsPerBar: 2, stepsPerBeat: 6 } : { beatsPerBar: 4, stepsPerBeat: 4 };
  const depth = style === "drifting" ? 0.03 : 0;
  const bpmAt = (beat: number) => bpm * (1 + depth * Math.sin(beat / 9));
  return {
    kit,
    song: perform(
      parts,
      Math.round(bpm * 2) / 2,
      between(0.3, 1.2),
      feel,
      seed,
      count,
      depth > 0 ? bpmAt : undefined,
    ),
  };
}
