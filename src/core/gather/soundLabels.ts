import { quantile } from "../signal/level";
import type { Piece, Place } from "../song/song";
import type { Label } from "./labels";
import type { BandEnergies } from "../hits/bandEnergies";
import { describeSounds, type MicSound } from "./micSounds";
import { isOneMicTwice, monoOf } from "./channels";
import { settleKinds } from "./settleKinds";
import { highOf, kindOdds, kinds, soundFeatures, type Kind } from "./soundModel";
import type { Samples } from "../signal/samples";

/** A file whose sound is asked for; `label` is what its name says, null when that says nothing. */
export interface UnknownMic {
  readonly channels: readonly Samples[];
  readonly silent: boolean;
  readonly label: Label | null;
}

/** Files that hear no other file's strokes are no mics of this kit: under this, dB. */
const deafBelow = -42;
/** Files whose strokes no other file hears are none either: under this, dB. A kick reaches other close mics at -20 to -40. */
const unheardBelow = -24;

/** How loud the strokes of the other files are in this one, in the middle, dB under its own. */
const othersIn = (sounds: readonly MicSound[], i: number): number =>
  quantile(
    sounds.flatMap((s, j) => (j === i || s.events.length === 0 ? [] : [s.heardIn[i]!])),
    0.5,
  );

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

/** Kind of a label that a name told; null: none of a kit's. */
const kindOf = ({ piece }: Label): Kind | null =>
  piece === "crash" ? "ride" : /^tom|floor/.test(piece) ? "tom" : (kinds.find((k) => k === piece) ?? null);

/** How far two mics of one drum may differ in how they hear each other's strokes, dB under their own. */
const sameDrum = -8;

function guessKinds(mics: readonly UnknownMic[], sounds: readonly MicSound[]): Guess[] {
  const outside = mics.map((m, i): Guess | null => {
    const s = sounds[i]!;
    if (m.label) return kindOf(m.label) ? null : { kind: "context", sure: m.label.sure };
    if (m.silent || s.events.length === 0) return { kind: "context", sure: 0.2 };
    if (othersIn(sounds, i) < deafBelow) return { kind: outsider(sounds, i), sure: 0.6 };
    // Strokes that no other mic hears are no strokes on this kit.
    const loudest = Math.max(...s.heardIn.filter((_, j) => j !== i));
    return loudest < unheardBelow ? { kind: outsider(sounds, i), sure: 0.5 } : null;
  });
  const asked = mics.flatMap((_, i) => (outside[i] ? [] : [i]));
  const files = asked.map((i) => {
    const stereo = mics[i]!.channels.length === 2 && !isOneMicTwice(mics[i]!.channels);
    const odds = kindOdds(soundFeatures(sounds, i, stereo));
    return { odds, named: mics[i]!.label ? kindOf(mics[i]!.label!) : null, stereo };
  });
  const settled = settleKinds(files, (a, b) => {
    const [i, j] = [asked[a]!, asked[b]!];
    return Math.min(sounds[i]!.heardIn[j]!, sounds[j]!.heardIn[i]!) > sameDrum;
  });
  return mics.map((_, i) => {
    const n = asked.indexOf(i);
    return outside[i] ?? { kind: settled[n]!, sure: Math.exp(files[n]!.odds[settled[n]!]) };
  });
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
  const far = labelFar(mics, guesses);
  const tuned = labelToms(mics, sounds, guesses);
  const labels = mics.map((m, i): Label => {
    const { kind, sure } = guesses[i]!;
    const pair = m.channels.length === 2;
    if (m.label) return m.label;
    if (kind === "context" || kind === "sample" || kind === "loop")
      return label(kind, pair ? "pair" : "close", sure);
    return (
      far.get(i) ?? tuned.get(i) ?? label(kind === "idle" || kind === "tom" ? "tom1" : kind, "close", sure)
    );
  });
  nameSeconds(labels, sounds, unknown);
  return labels;
}

/** Overheads and rooms. Which side is which cannot be heard: of two files the first is called left (common practice). */
function labelFar(mics: readonly UnknownMic[], guesses: readonly Guess[]): Map<number, Label> {
  const found = new Map<number, Label>();
  for (const piece of ["overhead", "room"] as const) {
    const files = guesses.flatMap((g, i) => (g.kind === piece && !mics[i]!.label ? [i] : []));
    const single = files.filter((i) => mics[i]!.channels.length === 1);
    const named = mics.some((m) => m.label?.piece === piece);
    for (const i of files) {
      const side = single.length === 2 && !named ? (i === single[0] ? "left" : "right") : "close";
      found.set(i, label(piece, mics[i]!.channels.length === 2 ? "pair" : side, guesses[i]!.sure));
    }
  }
  return found;
}

/** A single tom that is tuned lower is a floor tom, Hz (common practice, no source). */
const floorBelow = 95;

/** Toms by their pitch, from high to low; the lowest of several is the floor tom. */
function labelToms(
  mics: readonly UnknownMic[],
  sounds: readonly MicSound[],
  guesses: readonly Guess[],
): Map<number, Label> {
  const toms = guesses
    .flatMap((g, i) => ((g.kind === "tom" || g.kind === "idle") && !mics[i]!.label ? [i] : []))
    .sort((a, b) => sounds[b]!.fundamental - sounds[a]!.fundamental);
  const found = new Map<number, Label>();
  const hasFloor = mics.some((m) => m.label?.piece === "floor");
  toms.forEach((i, rank) => {
    const last = rank === toms.length - 1 && !hasFloor;
    const low = last && (toms.length > 1 || sounds[i]!.fundamental < floorBelow);
    found.set(i, label(low ? "floor" : (`tom${Math.min(3, rank + 1)}` as Piece), "close", guesses[i]!.sure));
  });
  return found;
}

/** Of two mics of one drum the brighter kick is the inner one, and the snare that is brighter for its body the lower one. */
function nameSeconds(labels: Label[], sounds: readonly MicSound[], unknown: (i: number) => boolean): void {
  for (const [piece, first, second] of [
    ["kick", "in", "out"],
    ["snare", "top", "bottom"],
  ] as const) {
    const all = labels.flatMap((l, i) => (l.piece === piece && unknown(i) ? [i] : []));
    const bright = (i: number) => highOf(sounds[i]!);
    const order = all.sort((a, b) => (piece === "kick" ? bright(b) - bright(a) : bright(a) - bright(b)));
    order.forEach((i, n) => {
      if (n < 2) labels[i]!.place = n === 0 ? first : second;
    });
  }
}
