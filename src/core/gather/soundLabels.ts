import { estimateDelay } from "../align/delays";
import { median, quantile } from "../signal/level";
import type { Piece, Place } from "../song/song";
import type { Label } from "./labels";
import type { BandEnergies } from "../hits/bandEnergies";
import { describeSounds, type MicSound } from "./micSounds";

/** A file whose sound is asked for; `label` is what its name says, null when that says nothing. */
export interface UnknownMic {
  readonly channels: readonly Float32Array[];
  readonly silent: boolean;
  readonly label: Label | null;
}

/** What the loud events of a mic of a drum are like: usual value and how far it may lie off. */
interface Likeness {
  readonly low: readonly [number, number]; // share below 120 Hz, dB
  readonly mid: readonly [number, number]; // share of 300 to 900 Hz, dB
  readonly high: readonly [number, number]; // share above 2.5 kHz, dB
  readonly decay: readonly [seconds: number, factor: number]; // to -20 dB
  readonly fundamental: readonly [hertz: number, factor: number] | null;
  readonly rate: readonly [perSecond: number, factor: number];
  readonly others: readonly [number, number]; // how loud the others' strokes are in it, dB
  readonly rest: readonly [number, number]; // its quiet tenth, dB
}
type Kind = "kick" | "snare" | "tom" | "floor" | "hat" | "ride" | "far";

/**
 * Common practice, no source: weight and shortness of a kick, body and wires of a snare, ring and rareness of toms, the
 * tops of hat and ride, and everything at once in mics that stand far or whose drum is not played. Widths were set on
 * simulated kits (seeds 1 to 12).
 */
const likenesses: Readonly<Record<Kind, Likeness>> = {
  kick: { low: [-4, 3], mid: [-8, 4], high: [-18, 9], decay: [0.2, 1.6], fundamental: [60, 1.35], rate: [0.8, 2], others: [-22, 5], rest: [-60, 5] },
  snare: { low: [-16, 5], mid: [-4, 2.5], high: [-9, 6], decay: [0.17, 1.5], fundamental: [195, 1.35], rate: [0.9, 2], others: [-19, 5], rest: [-56, 5] },
  tom: { low: [-8, 3], mid: [-5, 2.5], high: [-22, 5], decay: [0.4, 1.7], fundamental: [122, 1.3], rate: [0.25, 2.2], others: [-15, 4.5], rest: [-54, 5] },
  floor: { low: [-6, 2.5], mid: [-7, 2.5], high: [-21, 5], decay: [0.55, 1.7], fundamental: [82, 1.25], rate: [0.45, 2.2], others: [-16, 4.5], rest: [-54, 5] },
  hat: { low: [-17, 7], mid: [-11, 5], high: [-2, 2.5], decay: [0.09, 1.5], fundamental: null, rate: [1.3, 2], others: [-9, 4], rest: [-49, 4] },
  ride: { low: [-10, 5], mid: [-10, 4], high: [-3.5, 2.5], decay: [1, 1.6], fundamental: null, rate: [0.7, 2.2], others: [-12, 4], rest: [-49, 4] },
  far: { low: [-6, 5], mid: [-8, 4.5], high: [-14, 8], decay: [0.22, 1.7], fundamental: null, rate: [1, 2], others: [-6, 3.5], rest: [-42, 4] },
}; // prettier-ignore
const kinds = Object.keys(likenesses) as Kind[];

/** A far mic hears a stroke this much later than close ones at least, s: an overhead from 1 m on, a room from 2.5 m on. */
const overheadLate = 0.0023;
const roomLate = 0.0075;
/** Files that hear no other file's strokes are no mics of this kit: under this, dB. */
const deafBelow = -34;

const power = (db: readonly number[]): number =>
  10 * Math.log10(db.reduce((s, v) => s + 10 ** (v / 10), 1e-20));
const highOf = (s: MicSound): number => power([s.shares[4]!, s.shares[5]!]);

/** How loud the strokes of the other files are in this one: between the quiet and the usual, dB under its own. */
const othersIn = (sounds: readonly MicSound[], i: number): number =>
  quantile(sounds.flatMap((s, j) => (j === i || s.events.length === 0 ? [] : [s.heardIn[i]!])), 0.2); // prettier-ignore

/** Minus half the squared distance from what is usual, in widths; beyond three widths it counts no more. */
const closeness = (value: number, [usual, width]: readonly [number, number]): number =>
  -0.5 * Math.min(9, ((value - usual) / width) ** 2);
const closenessByFactor = (value: number, [usual, factor]: readonly [number, number]): number =>
  closeness(Math.log(Math.max(1e-6, value)), [Math.log(usual), Math.log(factor)]);

function likeness(s: MicSound, others: number, kind: Kind): number {
  const like = likenesses[kind];
  return (
    closeness(s.shares[0]!, like.low) +
    closeness(s.shares[2]!, like.mid) +
    closeness(highOf(s), like.high) +
    closenessByFactor(s.decay, like.decay) +
    closenessByFactor(s.rate, like.rate) +
    closeness(others, like.others) +
    closeness(s.floorDb, like.rest) +
    (like.fundamental ? closenessByFactor(s.fundamental, like.fundamental) : -0.5)
  );
}

/** Probability of every kind for one file. */
function probabilities(s: MicSound, others: number): Record<Kind, number> {
  const weights = kinds.map((k) => Math.exp(likeness(s, others, k)));
  const sum = weights.reduce((a, b) => a + b, 1e-30);
  return Object.fromEntries(kinds.map((k, i) => [k, weights[i]! / sum])) as Record<Kind, number>;
}

interface Guess {
  kind: Kind | "context" | "sample" | "loop";
  sure: number;
}

/** What a file is that hears nothing of the kit: a layer that sounds with one drum, a loop, or other music. */
function outsider(sounds: readonly MicSound[], i: number): Guess["kind"] {
  const s = sounds[i]!;
  const loudest = Math.max(...s.heardIn.filter((_, j) => j !== i));
  if (loudest > -8 && s.floorDb < -55) return "sample";
  const percussive = s.decay < 0.3 && s.floorDb < -35;
  const wide = s.shares[0]! > -12 && highOf(s) > -18;
  return percussive && wide ? "loop" : "context";
}

function guessKinds(mics: readonly UnknownMic[], sounds: readonly MicSound[]): Guess[] {
  const guesses = mics.map((m, i): Guess => {
    const s = sounds[i]!;
    if (m.silent || s.events.length === 0) return { kind: "context", sure: 0.2 };
    const others = othersIn(sounds, i);
    if (others < deafBelow) return { kind: outsider(sounds, i), sure: 0.6 };
    // Strokes that no other mic hears are no strokes on this kit.
    const loudest = Math.max(...s.heardIn.filter((_, j) => j !== i));
    if (loudest < -14) return { kind: outsider(sounds, i), sure: 0.5 };
    if (m.channels.length === 2) return { kind: "far", sure: 0.9 };
    const p = probabilities(s, others);
    const kind = kinds.reduce((best, k) => (p[k] > p[best] ? k : best));
    return { kind, sure: p[kind] };
  });
  correctSeconds(sounds, guesses);
  return guesses;
}

/** How far two mics of one drum may differ in how they hear each other's strokes, dB under their own. */
const sameDrum = -8;

/**
 * A second kick or snare mic hears the same strokes as the first; one that does not is a floor tom or a tom. There is one hat and one
 * ride; what else sounds like them stands far.
 */
function correctSeconds(sounds: readonly MicSound[], guesses: Guess[]): void {
  for (const [kind, otherwise] of [["kick", "floor"], ["snare", "tom"], ["hat", "far"], ["ride", "far"]] as const) {
    const alike = guesses.flatMap((g, i) => (g.kind === kind ? [i] : []));
    const rank = (i: number) =>
      kind === "kick" || kind === "snare" ? othersIn(sounds, i) : -guesses[i]!.sure;
    alike.sort((a, b) => rank(a) - rank(b));
    for (const i of alike.slice(1)) {
      const first = alike[0]!;
      const both = Math.min(sounds[i]!.heardIn[first]!, sounds[first]!.heardIn[i]!);
      if (both < sameDrum || otherwise === "far") guesses[i] = { kind: otherwise, sure: 0.6 };
    }
  } // prettier-ignore
}

/** One signal of a file: its only channel, or the mean of two. */
export const monoOf = (channels: readonly Float32Array[]): Float32Array =>
  channels.length === 1 ? channels[0]! : channels[0]!.map((v, i) => 0.5 * (v + channels[1]![i]!));

/** How much later than close mics of played drums a file hears their strokes, s; 0 when that cannot be told. */
function lateness(
  signals: readonly Float32Array[],
  sounds: readonly MicSound[],
  close: readonly number[],
  i: number,
  sampleRate: number,
): number {
  const delays = close.flatMap((c) => {
    const { events, hopFrames } = sounds[c]!;
    const onsets = events.slice(0, 60).map((t) => t * hopFrames - 0.002 * sampleRate);
    const found = estimateDelay(signals[c]!, signals[i]!, onsets, { from: -0.006, to: 0.045 }, sampleRate);
    return found && found.confidence > 0.1 ? [found.delay / sampleRate] : [];
  });
  return delays.length > 0 ? median(delays) : 0;
}

const label = (piece: Piece, place: Place, sure: number): Label => ({
  piece,
  place,
  sure: Math.min(0.85, Math.max(0.15, 0.85 * sure)),
});

/**
 * Labels from sound: which drum dominates a file, which files stand far, which is no drum at all. Labels with a name are
 * kept and help to tell the others.
 * Shape   one entry a file, all from the song's first frame on; energies of their mono signals. Sample rate Hz.
 */
export function labelsFromSound(
  mics: readonly UnknownMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
): Label[] {
  const signals = mics.map((m) => monoOf(m.channels));
  const sounds = describeSounds(signals, energies, sampleRate);
  const guesses = guessKinds(mics, sounds);
  const unknown = (i: number) => mics[i]!.label === null;
  const close = guesses
    .map((g, i) => ({ i, ...g, others: othersIn(sounds, i) }))
    .filter((g) => ["kick", "snare", "tom", "floor"].includes(g.kind) && g.others > deafBelow)
    .sort((a, b) => a.others - b.others)
    .slice(0, 5)
    .map((g) => g.i);
  const latenessOf = (i: number) => lateness(signals, sounds, close, i, sampleRate);
  const far = labelFar(mics, sounds, guesses, latenessOf);
  const tuned = labelToms(mics, sounds, guesses);
  const labels = mics.map((m, i): Label => {
    const { kind, sure } = guesses[i]!;
    const pair = m.channels.length === 2;
    if (m.label) return m.label;
    if (kind === "context" || kind === "sample" || kind === "loop")
      return label(kind, pair ? "pair" : "close", sure);
    return (
      far.get(i) ?? tuned.get(i) ?? label(kind === "far" || kind === "tom" ? "tom1" : kind, "close", sure)
    );
  });
  nameSeconds(labels, sounds, unknown);
  return labels;
}

/** Overheads, rooms, and mics that only hear others because their own drum is not played. */
function labelFar(
  mics: readonly UnknownMic[],
  sounds: readonly MicSound[],
  guesses: readonly Guess[],
  latenessOf: (i: number) => number,
): Map<number, Label> {
  const found = new Map<number, Label>();
  const near: { i: number; score: number }[] = [];
  guesses.forEach((g, i) => {
    if (g.kind !== "far" || mics[i]!.label) return;
    const late = latenessOf(i);
    const pair = mics[i]!.channels.length === 2;
    if (late > roomLate) found.set(i, label("room", pair ? "pair" : "close", 0.9));
    else if (pair) found.set(i, label("overhead", "pair", 0.95));
    // Cymbals are bright in overheads and dull in the mic of a drum that is not struck.
    else near.push({ i, score: (late - overheadLate) / 0.0008 + (highOf(sounds[i]!) + 15) / 6 });
  });
  near.sort((a, b) => b.score - a.score);
  const known =
    mics.some((m) => m.label?.piece === "overhead") ||
    [...found.values()].some((l) => l.piece === "overhead");
  const pairOf = known ? 0 : 2;
  near.forEach(({ i, score }, rank) => {
    // Overheads come as a pair: two of the likeliest, and a third only when nothing speaks against it.
    if (rank < pairOf ? score > -2 : score > 2.5)
      found.set(i, label("overhead", "close", rank < pairOf ? 0.8 : 0.6));
    else found.set(i, unplayed(sounds[i]!, guesses));
  });
  const overheads = [...found].filter(([i, l]) => l.piece === "overhead" && mics[i]!.channels.length === 1);
  // Which side is which cannot be heard; the first file is usually the left one (common practice).
  if (overheads.length === 2)
    overheads.sort(([a], [b]) => a - b).forEach(([, l], n) => (l.place = n === 0 ? "left" : "right"));
  return found;
}

/** The likeliest drum that is not played: a ride where the mic is cut off below, or a tom. */
function unplayed(s: MicSound, guesses: readonly Guess[]): Label {
  const ride = guesses.some((g) => g.kind === "ride");
  return s.shares[0]! < -11 && !ride ? label("ride", "close", 0.4) : label("tom2", "close", 0.45);
}

/** Toms by their pitch, from high to low; the lowest of several is the floor tom. */
function labelToms(
  mics: readonly UnknownMic[],
  sounds: readonly MicSound[],
  guesses: readonly Guess[],
): Map<number, Label> {
  const toms = guesses
    .flatMap((g, i) => ((g.kind === "tom" || g.kind === "floor") && !mics[i]!.label ? [i] : []))
    .sort((a, b) => sounds[b]!.fundamental - sounds[a]!.fundamental);
  const found = new Map<number, Label>();
  const hasFloor = mics.some((m) => m.label?.piece === "floor");
  toms.forEach((i, rank) => {
    const last = rank === toms.length - 1 && !hasFloor;
    const low = last && (toms.length > 1 || guesses[i]!.kind === "floor");
    found.set(i, label(low ? "floor" : (`tom${Math.min(3, rank + 1)}` as Piece), "close", guesses[i]!.sure));
  });
  return found;
}

/** Of two mics of one drum the brighter kick is the inner one, and the snare that is brighter for its body the lower one. */
function nameSeconds(labels: Label[], sounds: readonly MicSound[], unknown: (i: number) => boolean): void {
  for (const [piece, first, second] of [["kick", "in", "out"], ["snare", "top", "bottom"]] as const) {
    const all = labels.flatMap((l, i) => (l.piece === piece && unknown(i) ? [i] : []));
    const bright = (i: number) => highOf(sounds[i]!);
    const order = all.sort((a, b) => (piece === "kick" ? bright(b) - bright(a) : bright(a) - bright(b)));
    order.forEach((i, n) => {
      if (n < 2) labels[i]!.place = n === 0 ? first : second;
    });
  } // prettier-ignore
}
