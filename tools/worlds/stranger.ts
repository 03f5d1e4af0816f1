// A stranger's session: other geometry, bleed, preamps, playing and names than the demo's, struck with recorded one-shots.
import { demoKit, mic, type Kit, type MicSpec, type Point } from "../../demo/kit";
import { type Performance, type Strike } from "../../demo/performance";
import { buzz } from "../../demo/simulate";
import { normal } from "../../demo/voices";
import { randomSource } from "../../src/core/signal/random";

const names: Record<string, readonly string[]> = {
  "kick/in": [
    "Kick In",
    "BD_in",
    "kik inside",
    "KickBeater",
    "Bass Drum Inside",
    "Grosse Caisse In",
    "BASSDR in",
    "Kick 1",
  ],
  "kick/out": [
    "Kick Out",
    "BD_out",
    "kik outside",
    "Kick Front",
    "Bass Drum Outside",
    "Grosse Caisse Out",
    "BASSDR out",
    "Kick 2",
  ],
  "snare/top": [
    "Snare Top",
    "SN_T",
    "snr over",
    "SnareUp",
    "Snare Drum Top",
    "Caisse Claire Dessus",
    "Snare oben",
    "Snare 1",
  ],
  "snare/bottom": [
    "Snare Bottom",
    "SN_B",
    "snr under",
    "SnareDn",
    "Snare Drum Bottom",
    "Caisse Claire Dessous",
    "Snare unten",
    "Snare 2",
  ],
  "hat/close": ["HiHat", "HH", "hat", "Hats", "Hi-Hat Close", "Charleston", "Hihat nah", "HH 1"],
  "tom1/close": ["Tom 1", "T1", "hi tom", "RackTom", "High Tom", "Tom Aigu", "Tom 12", "Tom_A1"],
  "tom2/close": ["Tom 2", "T2", "mid tom", "RackTom2", "Middle Tom", "Tom Medium", "Tom 13", "Tom_A2"],
  "floor/close": ["Floor Tom", "FT", "low tom", "FloorTom", "Floor", "Tom Basse", "Tom 16", "Tom_A3"],
  "ride/close": ["Ride", "RD", "ride cym", "RideCym", "Ride Cymbal", "Ride", "Ride Becken", "RIDE 1"],
  "overhead/left": [
    "Overhead L",
    "OH_L",
    "over l",
    "OHLeft",
    "Overheads Left",
    "Aerien Gauche",
    "Overhead links",
    "OH 1",
  ],
  "overhead/right": [
    "Overhead R",
    "OH_R",
    "over r",
    "OHRight",
    "Overheads Right",
    "Aerien Droite",
    "Overhead rechts",
    "OH 2",
  ],
  "overhead/pair": [
    "Overheads",
    "OH",
    "overs",
    "OHStereo",
    "Overheads Stereo",
    "Aeriens",
    "Overhead Stereo",
    "OH LR",
  ],
  "room/pair": ["Room", "RM", "rooms", "RoomStereo", "Ambience", "Ambiance", "Raum Stereo", "ROOM LR"],
};

/** Where everything stands, how loudly it bleeds, and what preamps and recorder do to it. */
export function strangerKit(seed: number, hard: boolean): Kit {
  const random = randomSource(seed * 9973 + 17);
  const between = (a: number, b: number) => a + random() * (b - a);
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
  const at = (piece: string) => pieces.find((p) => p.piece === piece)!.at;
  pieces.push({
    piece: buzz,
    at: [at("snare")[0], at("snare")[1], at("snare")[2] - 0.14],
    strength: between(0.01, 0.05),
  });
  const snareAt = pieces.find((p) => p.piece === "snare")!;
  snareAt.otherSide = [snareAt.at[0], snareAt.at[1], snareAt.at[2] - 0.14];
  const kickAt = pieces.find((p) => p.piece === "kick")!;
  kickAt.otherSide = [kickAt.at[0], kickAt.at[1] + 0.4, kickAt.at[2]];
  const scheme = Math.floor(random() * 8);
  const name = (role: string) => {
    const plain = names[role]![scheme]!;
    return `${plain}.wav`;
  };
  const near = (p: Point, dx: number, dy: number, dz: number): Point => [
    p[0] + dx + between(-0.03, 0.03),
    p[1] + dy + between(-0.03, 0.03),
    p[2] + dz + between(-0.02, 0.03),
  ];
  const mics: MicSpec[] = [];
  const close = (piece: string, place: string, point: Point, aim: Point, more: Partial<MicSpec> = {}) =>
    mics.push(
      mic(name(`${piece}/${place}`), piece, place, point, {
        aim,
        peakDb: between(-13, -3),
        brightness: between(-4, 6),
        lowCut: between(20, 70),
        directivity: between(0.5, 0.9),
        ...more,
      }),
    );
  close("kick", "in", near(at("kick"), 0.03, 0.14, 0.03), at("kick"));
  if (random() < 0.75)
    close("kick", "out", near(kickAt.otherSide, 0, 0.22, 0.02), kickAt.otherSide, { side: 1 });
  close("snare", "top", near(at("snare"), 0.05, 0.1, 0.06), at("snare"));
  if (random() < 0.85)
    close("snare", "bottom", near(snareAt.otherSide, 0.03, 0.05, -0.09), snareAt.otherSide, {
      side: 1,
      lowCut: between(30, 120),
    });
  if (random() < 0.8)
    close("hat", "close", near(at("hat"), -0.06, 0.05, 0.13), at("hat"), { lowCut: between(40, 180) });
  const racks = random() < 0.6 ? ["tom1", "tom2", "floor"] : ["tom1", "floor"];
  for (const tom of racks) close(tom, "close", near(at(tom), 0.02, 0.11, 0.06), at(tom));
  if (random() < 0.45)
    close("ride", "close", near(at("ride"), 0.04, 0.06, random() < 0.6 ? 0.13 : -0.14), at("ride"), {
      lowCut: between(40, 180),
    });
  const kept = pieces.filter((p) => p.piece !== "tom2" || racks.includes("tom2"));
  const room = between(0.05, 0.2);
  const style = random();
  const [x, y, z] = [style < 0.3 ? 0.02 : between(0.4, 0.8), between(0.3, 0.7), between(1.6, 2.1)];
  const sides = (["left", "right"] as const).map((place, n): [string, Point, Point] => {
    const side = n === 0 ? -1 : 1;
    const uneven = style > 0.8 && n === 1;
    return [
      place,
      uneven ? [0.85, 0.1, 1.05] : [side * x, y, z],
      style < 0.3 ? [side, y + 0.1, z - 1] : uneven ? at("snare") : [side * x * 0.8, y, 0.7],
    ];
  });
  const far = {
    room,
    directivity: 0.85,
    brightness: between(-2, 4),
    lowCut: between(20, 90),
    peakDb: between(-12, -4),
  };
  const paired = random() < 0.35;
  if (paired)
    mics.push(
      mic(
        name("overhead/pair"),
        "overhead",
        "pair",
        sides.map(([, p]) => p),
        { ...far, aim: [0.1, 0.4, 0.8] },
      ),
    );
  else
    for (const [place, p, aim] of sides)
      mics.push(mic(name(`overhead/${place}`), "overhead", place, p, { ...far, aim }));
  if (random() < 0.6)
    mics.push(
      mic(
        name("room/pair"),
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
      ),
    );
  for (const m of mics) {
    const isClose = m.room < 0.05;
    if (isClose) {
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
  return {
    pieces: kept,
    mics,
    room: {
      size: [between(4, 8), between(5, 9), between(2.4, 3.6)] as Point,
      decay: between(0.25, 1.4),
      absorption: between(0.35, 0.6),
    },
  };
}

/** What a drummer may play over about `seconds`: grooves, ghosts, fills with drags and rolls, side stick, swing, drift. */
export function strangerSong(
  seed: number,
  hard: boolean,
  has: (piece: string) => boolean,
  seconds = 60,
): Performance {
  const random = randomSource(seed * 8191 + 29);
  const between = (a: number, b: number) => a + random() * (b - a);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const compound = random() < 0.12;
  const stepsPerBeat = compound ? 6 : 4;
  const beatsPerBar = compound ? 2 : 4;
  const bpm = Math.round(between(compound ? 66 : 72, compound ? 100 : 168) * 100) / 100;
  const drift = hard || random() < 0.25 ? between(0.003, 0.012) : 0;
  const wave = between(5, 12);
  const firstBeat = between(0.4, 3);
  const bars = Math.max(8, Math.floor(((seconds - firstBeat - 3) * bpm) / 60 / beatsPerBar));
  const beats = [firstBeat];
  for (let b = 0; b < bars * beatsPerBar; b++)
    beats.push(beats[b]! + 60 / (bpm * (1 + drift * Math.sin(b / wave) + 0.3 * drift * normal(random))));
  const swing = !compound && random() < 0.3 ? between(0.1, 0.33) : 0; // of a step, on odd sixteenths or eighths
  const swungEighths = swing > 0 && random() < 0.4;
  const timeOf = (step: number): number => {
    const beat = Math.min(beats.length - 2, Math.floor(step / stepsPerBeat));
    const inBeat = step - beat * stepsPerBeat;
    const late = swungEighths ? (inBeat === 2 ? 1.33 * swing * 2 : 0) : inBeat % 2 === 1 ? swing : 0;
    return beats[beat]! + ((beats[beat + 1]! - beats[beat]!) * (inBeat + late)) / stepsPerBeat;
  };
  const spread = hard ? 0.011 : between(0.003, 0.009);
  const lean: Record<string, number> = { snare: between(-0.004, 0.007), hat: between(-0.003, 0.003) };
  const perBar = stepsPerBeat * beatsPerBar;
  const kicks = compound
    ? [[0], [0, 4], [0, 10]]
    : [
        [0, 8],
        [0, 6, 8],
        [0, 7, 10],
        [0, 3, 8, 10],
        [0, 10],
        [0, 2, 8, 14],
      ];
  const backs = compound ? [6] : [4, 12];
  const strikes: Strike[] = [];
  const shared = new Map<number, number>();
  const hit = (step: number, piece: string, velocity: number, more: Partial<Strike> = {}, ahead = 0) => {
    if (!has(piece)) return;
    if (!shared.has(step)) shared.set(step, spread * 0.8 * normal(random));
    const time =
      timeOf(step) + shared.get(step)! + 0.5 * spread * normal(random) + (lean[piece] ?? 0) - ahead;
    strikes.push({
      piece,
      time: Math.max(0.05, time),
      velocity: Math.min(1, Math.max(0.2, velocity)),
      ghost: false,
      choke: 0,
      ...more,
    });
  };
  const verseKick = pick(kicks);
  const chorusKick = pick(kicks);
  const ghostSteps = [2, 3, 6, 7, 9, 10, 11, 14, 15].filter(() => random() < 0.4);
  const pulse = bpm > 135 ? 2 : pick([1, 2, 2, 2]);
  const lead = random() < 0.5 ? "ride" : "hat";
  const stick = random() < 0.2;
  const sections: Performance["sections"] = [];
  const toms = ["tom1", "tom2", "floor"].filter(has);
  for (let bar = 0; bar < bars; bar++) {
    const part = Math.floor(bar / 4) % 4;
    const section = part === 1 || part === 3 ? "chorus" : bar % 16 > 12 && toms.length > 0 ? "toms" : "verse";
    if (bar % 4 === 0) sections.push({ name: section, fromBar: bar, bars: 4 });
    const base = bar * perBar;
    const isFill = bar % 4 === 3 || bar === bars - 1;
    const fillFrom = isFill ? perBar - pick(compound ? [6] : [4, 8]) : perBar;
    for (const s of section === "chorus" ? chorusKick : verseKick)
      if (s < fillFrom) hit(base + s, "kick", between(0.86, 1));
    for (const s of backs)
      if (s < fillFrom)
        hit(
          base + s,
          "snare",
          section === "chorus" ? between(0.93, 1) : between(0.88, 0.97),
          stick && section === "verse" ? { how: "stick" } : {},
        );
    if (section === "verse" && !stick)
      for (const s of ghostSteps)
        if (s < Math.min(fillFrom, perBar) && !backs.includes(s) && random() < 0.7)
          hit(base + s, "snare", between(0.4, 0.58), { ghost: true });
    for (let s = 0; s < fillFrom; s += section === "chorus" ? 2 : pulse) {
      const accent = s % stepsPerBeat === 0 ? 0 : -0.1;
      if (section === "toms") {
        if (s % 2 === 0) hit(base + s, random() < 0.7 ? "floor" : "tom1", between(0.8, 0.95));
      } else if (section === "chorus" && lead === "ride")
        hit(base + s, "ride", 0.93 + accent + 0.03 * normal(random), random() < 0.1 ? { how: "bell" } : {});
      else if (section === "chorus") hit(base + s, "hat", 0.95 + accent, { how: "open" });
      else
        hit(
          base + s,
          "hat",
          0.84 + accent + 0.04 * normal(random),
          random() < 0.05 ? { how: "open", choke: 0.15 } : { choke: 0.08 },
        );
    }
    if (isFill) {
      const run = ["snare", ...toms];
      const rush = between(0, 0.018);
      for (let s = fillFrom; s < perBar; s++) {
        if (random() < 0.15) continue;
        const on = run[Math.floor(((s - fillFrom) / (perBar - fillFrom)) * run.length)]!;
        hit(base + s, on, between(0.82, 0.97), {}, (rush * (s - fillFrom)) / (perBar - fillFrom));
        if (s % 4 === 0 && random() < 0.5) hit(base + s, "kick", between(0.85, 0.95));
        if (on === "snare" && random() < 0.12)
          hit(base + s, "snare", 0.62, { ghost: true }, between(0.024, 0.034));
      }
    } else if (random() < 0.15 && section === "chorus")
      hit(base + backs[0]!, "snare", 0.7, { ghost: true }, between(0.025, 0.034));
    if (bar % 4 === 0 && (section !== "verse" || random() < 0.5)) hit(base, "crash", between(0.9, 1));
  }
  const end = beats.length - 1;
  for (const p of ["kick", "crash"]) hit(end * stepsPerBeat - 0.001, p, 0.97);
  const answered = strikes.filter(
    (s) => s.piece === "kick" || s.piece.startsWith("tom") || s.piece === "floor",
  );
  strikes.push(...answered.map((s): Strike => ({ ...s, piece: buzz, time: s.time + 0.004, how: undefined })));
  strikes.sort((a, b) => a.time - b.time);
  return { bpm, beatsPerBar, firstBeat, beats, seconds: beats[end]! + 3, sections, strikes };
}
