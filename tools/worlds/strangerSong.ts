// What a stranger plays: grooves, ghosts, fills with drags and rolls, side stick, swing, drift.
import type { Performance, Strike } from "../../demo/performance";
import { buzz } from "../../demo/simulate";
import { diceOf, type Dice } from "./dice";

/** A drummer's time: where steps of the bar fall, and how far strokes stray from them. */
interface Time {
  readonly stepsPerBeat: number;
  readonly beatsPerBar: number;
  readonly perBar: number;
  readonly bpm: number;
  readonly firstBeat: number;
  readonly bars: number;
  readonly beats: readonly number[];
  readonly timeOf: (step: number) => number;
}

function timeFor({ random, between, normal }: Dice, hard: boolean, compound: boolean, seconds: number): Time {
  const stepsPerBeat = compound ? 6 : 4;
  const beatsPerBar = compound ? 2 : 4;
  const bpm = Math.round(between(compound ? 66 : 72, compound ? 100 : 168) * 100) / 100;
  const drift = hard || random() < 0.25 ? between(0.003, 0.012) : 0;
  const wave = between(5, 12);
  const firstBeat = between(0.4, 3);
  const bars = Math.max(8, Math.floor(((seconds - firstBeat - 3) * bpm) / 60 / beatsPerBar));
  const beats = [firstBeat];
  for (let b = 0; b < bars * beatsPerBar; b++)
    beats.push(beats[b]! + 60 / (bpm * (1 + drift * Math.sin(b / wave) + 0.3 * drift * normal())));
  const swing = !compound && random() < 0.3 ? between(0.1, 0.33) : 0; // of a step, on odd sixteenths or eighths
  const swungEighths = swing > 0 && random() < 0.4;
  const timeOf = (step: number): number => {
    const beat = Math.min(beats.length - 2, Math.floor(step / stepsPerBeat));
    const inBeat = step - beat * stepsPerBeat;
    const late = swungEighths ? (inBeat === 2 ? 1.33 * swing * 2 : 0) : inBeat % 2 === 1 ? swing : 0;
    return beats[beat]! + ((beats[beat + 1]! - beats[beat]!) * (inBeat + late)) / stepsPerBeat;
  };
  return {
    stepsPerBeat,
    beatsPerBar,
    perBar: stepsPerBeat * beatsPerBar,
    bpm,
    firstBeat,
    bars,
    beats,
    timeOf,
  };
}

/** Plays a stroke at a step; `ahead`: s before it. */
type Hit = (step: number, piece: string, velocity: number, more?: Partial<Strike>, ahead?: number) => void;

/** Strokes of drums that are there: all at a step stray together, each by itself, and some drums lean. */
function hands(
  { between, normal }: Dice,
  hard: boolean,
  { timeOf }: Time,
  has: (piece: string) => boolean,
): { readonly hit: Hit; readonly strikes: Strike[] } {
  const spread = hard ? 0.011 : between(0.003, 0.009);
  const lean: Record<string, number> = { snare: between(-0.004, 0.007), hat: between(-0.003, 0.003) };
  const strikes: Strike[] = [];
  const shared = new Map<number, number>();
  const hit: Hit = (step, piece, velocity, more = {}, ahead = 0) => {
    if (!has(piece)) return;
    if (!shared.has(step)) shared.set(step, spread * 0.8 * normal());
    const time = timeOf(step) + shared.get(step)! + 0.5 * spread * normal() + (lean[piece] ?? 0) - ahead;
    strikes.push({
      piece,
      time: Math.max(0.05, time),
      velocity: Math.min(1, Math.max(0.2, velocity)),
      ghost: false,
      choke: 0,
      ...more,
    });
  };
  return { hit, strikes };
}

/** Steps of the bar on which a kick may fall. */
const grooves = {
  straight: [
    [0, 8],
    [0, 6, 8],
    [0, 7, 10],
    [0, 3, 8, 10],
    [0, 10],
    [0, 2, 8, 14],
  ],
  compound: [[0], [0, 4], [0, 10]],
} as const;

/** How this drummer plays a song. */
interface Style {
  readonly compound: boolean;
  readonly backs: readonly number[];
  readonly verseKick: readonly number[];
  readonly chorusKick: readonly number[];
  readonly ghostSteps: readonly number[];
  /** Steps from one stroke of the hat to the next in a verse. */
  readonly pulse: number;
  /** What leads a chorus. */
  readonly lead: "ride" | "hat";
  readonly stick: boolean;
  readonly toms: readonly string[];
}

function styleOf(
  { random, pick }: Dice,
  { bpm }: Time,
  compound: boolean,
  has: (piece: string) => boolean,
): Style {
  const kicks: readonly (readonly number[])[] = compound ? grooves.compound : grooves.straight;
  return {
    compound,
    backs: compound ? [6] : [4, 12],
    verseKick: pick(kicks),
    chorusKick: pick(kicks),
    ghostSteps: [2, 3, 6, 7, 9, 10, 11, 14, 15].filter(() => random() < 0.4),
    pulse: bpm > 135 ? 2 : pick([1, 2, 2, 2]),
    lead: random() < 0.5 ? "ride" : "hat",
    stick: random() < 0.2,
    toms: ["tom1", "tom2", "floor"].filter(has),
  };
}

type Section = "chorus" | "toms" | "verse";

/** Kick, backbeat and ghost notes of a bar that begins at a step, until its fill. */
function playShells(
  { random, between }: Dice,
  hit: Hit,
  { backs, verseKick, chorusKick, ghostSteps, stick }: Style,
  section: Section,
  base: number,
  fillFrom: number,
): void {
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
  if (section !== "verse" || stick) return;
  for (const s of ghostSteps)
    if (s < fillFrom && !backs.includes(s) && random() < 0.7)
      hit(base + s, "snare", between(0.4, 0.58), { ghost: true });
}

/** What leads a bar until its fill: hat, ride, or toms. */
function playLead(
  { random, between, normal }: Dice,
  hit: Hit,
  { pulse, lead }: Style,
  section: Section,
  base: number,
  fillFrom: number,
  stepsPerBeat: number,
): void {
  for (let s = 0; s < fillFrom; s += section === "chorus" ? 2 : pulse) {
    const accent = s % stepsPerBeat === 0 ? 0 : -0.1;
    if (section === "toms") {
      if (s % 2 === 0) hit(base + s, random() < 0.7 ? "floor" : "tom1", between(0.8, 0.95));
    } else if (section === "chorus" && lead === "ride")
      hit(base + s, "ride", 0.93 + accent + 0.03 * normal(), random() < 0.1 ? { how: "bell" } : {});
    else if (section === "chorus") hit(base + s, "hat", 0.95 + accent, { how: "open" });
    else {
      const velocity = 0.84 + accent + 0.04 * normal();
      hit(base + s, "hat", velocity, random() < 0.05 ? { how: "open", choke: 0.15 } : { choke: 0.08 });
    }
  }
}

/** A fill down the drums, with kicks under it and drags on the snare; it may rush. */
function playFill(
  { random, between }: Dice,
  hit: Hit,
  { toms }: Style,
  base: number,
  fillFrom: number,
  perBar: number,
): void {
  const run = ["snare", ...toms];
  const rush = between(0, 0.018);
  for (let s = fillFrom; s < perBar; s++) {
    if (random() < 0.15) continue;
    const along = (s - fillFrom) / (perBar - fillFrom);
    const on = run[Math.floor(along * run.length)]!;
    hit(base + s, on, between(0.82, 0.97), {}, (rush * (s - fillFrom)) / (perBar - fillFrom));
    if (s % 4 === 0 && random() < 0.5) hit(base + s, "kick", between(0.85, 0.95));
    if (on === "snare" && random() < 0.12)
      hit(base + s, "snare", 0.62, { ghost: true }, between(0.024, 0.034));
  }
}

/** Wires answer kicks and toms. */
const answersOf = (strikes: readonly Strike[]): Strike[] =>
  strikes
    .filter((s) => s.piece === "kick" || s.piece.startsWith("tom") || s.piece === "floor")
    .map((s) => ({ ...s, piece: buzz, time: s.time + 0.004, how: undefined }));

/** What a drummer may play over about `seconds`. */
export function strangerSong(
  seed: number,
  hard: boolean,
  has: (piece: string) => boolean,
  seconds = 60,
): Performance {
  const dice = diceOf(seed * 8191 + 29);
  const { random, between, pick } = dice;
  const compound = random() < 0.12;
  const time = timeFor(dice, hard, compound, seconds);
  const { stepsPerBeat, beatsPerBar, perBar, bpm, firstBeat, bars, beats } = time;
  const { hit, strikes } = hands(dice, hard, time, has);
  const style = styleOf(dice, time, compound, has);
  const sections: Performance["sections"] = [];
  for (let bar = 0; bar < bars; bar++) {
    const part = Math.floor(bar / 4) % 4;
    const inToms = bar % 16 > 12 && style.toms.length > 0;
    const section: Section = part === 1 || part === 3 ? "chorus" : inToms ? "toms" : "verse";
    if (bar % 4 === 0) sections.push({ name: section, fromBar: bar, bars: 4 });
    const base = bar * perBar;
    const isFill = bar % 4 === 3 || bar === bars - 1;
    const fillFrom = isFill ? perBar - pick(compound ? [6] : [4, 8]) : perBar;
    playShells(dice, hit, style, section, base, fillFrom);
    playLead(dice, hit, style, section, base, fillFrom, stepsPerBeat);
    if (isFill) playFill(dice, hit, style, base, fillFrom, perBar);
    else if (random() < 0.15 && section === "chorus")
      hit(base + style.backs[0]!, "snare", 0.7, { ghost: true }, between(0.025, 0.034));
    if (bar % 4 === 0 && (section !== "verse" || random() < 0.5)) hit(base, "crash", between(0.9, 1));
  }
  const end = beats.length - 1;
  for (const p of ["kick", "crash"]) hit(end * stepsPerBeat - 0.001, p, 0.97);
  strikes.push(...answersOf(strikes));
  strikes.sort((a, b) => a.time - b.time);
  return { bpm, beatsPerBar, firstBeat, beats: [...beats], seconds: beats[end]! + 3, sections, strikes };
}
