import type { Facts } from "../facts/facts";
import { pairGains } from "../facts/pairGains";
import { firstOf } from "../song/create";
import { usable } from "../song/proposalWords";
import { dbToPower, powerToDb } from "../signal/level";
import { isDrum, isShell, mainMic, type Mic, type Piece, type Place, type Song } from "../song/song";

/** How loud the strokes of a drum are to be in the kit against the snare's, all its mics together, dB (common practice, no source). */
export const balanceTargets: Readonly<Partial<Record<Piece, number>>> = {
  kick: 0,
  snare: 0,
  tom1: -1,
  tom2: -1,
  tom3: -1,
  floor: -1,
  hat: -12,
  ride: -11,
  crash: -3,
};
/** Rooms together, at the shells' strokes, against the snare's, dB (common practice, no source). */
const roomTarget = -12;
/** Second mics of a drum against its main one, by place, dB (common practice, no source). */
const secondTargets: Readonly<Partial<Record<Place, number>>> = {
  out: -5,
  sub: -9,
  bottom: -8,
  side: -10,
  left: 0,
  right: 0,
  pair: 0,
};
const otherSecond = -8;
/** Far mics may have at most so much of a shell against what it is to be, dB: its own mics carry it. */
const farShare = -3;
/** A close mic of a cymbal that the overheads carry already stays so far under them, dB. */
const underOverheads = -10;
/** Rounds until faders that depend on each other stand. */
const rounds = 6;
/** Where a fader may be put by itself, dB. */
const faders = { least: -24, most: 10 } as const;

/** A mic as it comes to its fader. */
interface Source {
  readonly mic: Mic;
  /** By drum, dB. */
  readonly heard: Readonly<Partial<Record<Piece, number>>>;
  readonly together: number;
}

/** What a balance makes of a drum. */
export interface DrumBalance {
  readonly piece: Piece;
  /** Loudness of its strokes in the kit, K-weighted dB, all mics together; `share`: of that in the far ones. */
  readonly loudness: number;
  readonly far: number;
}
export interface Balance {
  /** The drum whose main mic stays at 0 dB, and against which all others are set. */
  readonly against: Piece;
  /** By mic id, dB. */
  readonly faders: Readonly<Record<string, number>>;
  readonly drums: readonly DrumBalance[];
}

/** What a mic's chain gives or takes from the loudness of its strokes as it stands, dB: trim, and what was lowered for loud strokes. */
export function chainGain(song: Pick<Song, "shaping">, facts: Facts, mic: Mic): number {
  const trim = firstOf(mic, "trim");
  const flavour = song.shaping.byPiece[mic.piece] ?? song.shaping.flavour;
  const shaped = facts.shapes[mic.id]?.[flavour];
  const lost = (type: string, lowered: number | undefined) => (firstOf(mic, type)?.on ? (lowered ?? 0) : 0);
  return (
    (trim?.on ? (trim.params["gain"] as number) : 0) -
    lost("compressor", shaped?.compressor?.lowered) -
    lost("saturation", shaped?.rounding?.lowered)
  );
}

const isFar = ({ piece }: Pick<Mic, "piece">): boolean => piece === "overhead" || piece === "room";

/** Level of two that are so much alike, dB. */
const added = (a: number, b: number, together: number): number =>
  powerToDb(dbToPower(a) + dbToPower(b) + 2 * together * Math.sqrt(dbToPower(a) * dbToPower(b)));

/**
 * Faders at which the drums are as loud as `balanceTargets` says, measured over their strokes: the overheads bring the cymbals, as long
 * as the shells' own mics carry the shells; rooms lie behind; what far mics already bring of a drum its own mics leave out; second
 * mics stay under their main one. The snare's main mic stays at 0 dB; without a snare the first shell's does.
 * Null where no shell was measured. Faders of mics that are silent, never played or of no drum are not touched.
 */
export function balanceOf(song: Pick<Song, "mics" | "shaping">, facts: Facts): Balance | null {
  const sources = song.mics.flatMap((mic): Source[] => {
    const found = facts.heardStrokes[mic.id];
    // A trigger tells of strokes and is not listened to.
    if (!found || !usable(mic) || mic.muted || mic.place === "trigger") return [];
    const gain = chainGain(song, facts, mic);
    const heard = Object.fromEntries(Object.entries(found.heard).map(([piece, db]) => [piece, db + gain]));
    return [{ mic, heard, together: found.together ?? 0 }];
  });
  const close = new Map<Piece, Source[]>();
  for (const s of sources.filter(({ mic }) => isDrum(mic.piece)))
    close.set(s.mic.piece, [...(close.get(s.mic.piece) ?? []), s]);
  const drums = [...close].map(([piece, own]) => drumOf(song.mics, piece, own));
  const first = drums.find((d) => d.piece === "snare") ?? drums.find((d) => isShell(d.piece));
  if (!first) return null;
  return settled(
    sources.filter(({ mic }) => isFar(mic)),
    drums,
    first,
  );
}

/** The close mics of a drum with the main one at 0 dB: where the others stand, and how loud all are. */
interface Drum {
  readonly piece: Piece;
  readonly level: number;
  readonly faders: Readonly<Record<string, number>>;
}
function drumOf(mics: readonly Mic[], piece: Piece, own: readonly Source[]): Drum {
  const main = own.find(({ mic }) => mic.id === mainMic(mics, piece)?.id) ?? own[0]!;
  const mainLevel = main.heard[piece]!;
  const faders: Record<string, number> = { [main.mic.id]: 0 };
  let level = mainLevel;
  for (const s of own.filter((x) => x !== main)) {
    const wanted = mainLevel + (secondTargets[s.mic.place] ?? otherSecond);
    faders[s.mic.id] = wanted - s.heard[piece]!;
    level = added(level, wanted, s.together);
  }
  return { piece, level, faders };
}

/** Far mics that are brought in together: overheads or rooms. */
class FarGroup {
  gain = 0;
  constructor(readonly sources: readonly Source[]) {}
  /** True when a drum was measured in one of them. */
  hears = (piece: Piece): boolean => this.sources.some((s) => s.heard[piece] !== undefined);
  /** Level of a drum in all of them at the gain, dB. */
  levelOf(piece: Piece, gain = this.gain): number {
    const levels = this.sources.flatMap((s) => (s.heard[piece] === undefined ? [] : [s.heard[piece] + gain]));
    return powerToDb(levels.reduce((sum, db) => sum + dbToPower(db), 0));
  }
  /** Highest gain at which none of some drums is louder than it may be, dB; Infinity where none is heard. */
  until = (pieces: readonly Piece[], mostOf: (piece: Piece) => number): number =>
    Math.min(Infinity, ...pieces.filter(this.hears).map((p) => mostOf(p) - this.levelOf(p, 0)));
}

/** Faders of far and close mics that fit each other, found in rounds. */
function settled(far: readonly Source[], drums: readonly Drum[], first: Drum): Balance {
  const overheads = new FarGroup(far.filter(({ mic }) => mic.piece === "overhead"));
  const rooms = new FarGroup(far.filter(({ mic }) => mic.piece === "room"));
  const pieces = [
    ...new Set([...drums.map((d) => d.piece), ...far.flatMap((s) => Object.keys(s.heard) as Piece[])]),
  ];
  const cymbals = pieces.filter((p) => !isShell(p));
  const shells = drums.map((d) => d.piece).filter(isShell);
  const farOf = (piece: Piece) => added(overheads.levelOf(piece), rooms.levelOf(piece), 0);
  /** What 0 dB in `balanceTargets` is. */
  let zero = first.level - balanceTargets[first.piece]!;
  const target = (piece: Piece) => zero + (balanceTargets[piece] ?? 0);
  const mostFar = (piece: Piece) => target(piece) + farShare;
  /** Gain at which the cymbals are as loud as they are to be, in the mean; those without a mic of their own decide where there are any. */
  const cymbalGain = (): number => {
    const heard = cymbals.filter(overheads.hears);
    const bare = heard.filter((p) => !drums.some((d) => d.piece === p));
    const asked = bare.length > 0 ? bare : heard;
    const wanted = asked.map((p) => target(p) - overheads.levelOf(p, 0));
    return wanted.length > 0 ? wanted.reduce((sum, v) => sum + v, 0) / wanted.length : Infinity;
  };
  for (let n = 0; n < rounds; n++) {
    overheads.gain = within(Math.min(cymbalGain(), overheads.until(shells, mostFar)));
    rooms.gain = within(rooms.until(shells, () => zero + roomTarget));
    zero = added(first.level, farOf(first.piece), 0) - balanceTargets[first.piece]!;
  }
  const faders: Record<string, number> = {};
  const loudness = pieces.map((piece): DrumBalance => {
    const own = drums.find((d) => d.piece === piece);
    const before = farOf(piece);
    if (!own) return { piece, loudness: before, far: before };
    const left = powerToDb(Math.max(0, dbToPower(target(piece)) - dbToPower(before)));
    const least = isShell(piece) ? mostFar(piece) : before + underOverheads;
    // What is told is what the fader reaches.
    const move = own === first ? 0 : clamp(Math.max(least, left) - own.level);
    for (const [id, fader] of Object.entries(own.faders)) faders[id] = clamp(fader + move);
    return { piece, loudness: added(own.level + move, before, 0), far: before };
  });
  for (const group of [overheads, rooms]) {
    const apart = pairGains(
      group.sources.map((s) => s.mic),
      { heardStrokes: Object.fromEntries(group.sources.map((s) => [s.mic.id, s])) },
    );
    for (const { mic } of group.sources) faders[mic.id] = clamp(group.gain + (apart[mic.id] ?? 0));
  }
  return { against: first.piece, faders, drums: loudness };
}

/** Where nothing says how loud, a fader stays where it is. */
const within = (db: number): number =>
  Number.isFinite(db) ? Math.min(faders.most, Math.max(faders.least, db)) : 0;
/** To a tenth of a dB, where a fader may be put. */
const clamp = (db: number): number => Math.round(10 * within(db)) / 10;
