import { roomDistance } from "../align/kitDistance";
import { isCymbal } from "../hits/ownBands";
import { tunedTo } from "../song/chainEdits";
import { partsAsChain, type ChainPart } from "../song/chainParts";
import { newBus } from "../song/create";
import { kitOf, ownerOf } from "../song/graph";
import { limits } from "../song/limits";
import type { Operation } from "../song/operations";
import { freeBusId } from "../song/parallelCopy";
import { usable } from "../song/proposalWords";
import {
  isShell,
  type Mic,
  type Piece,
  type ProcessorState,
  type Send,
  type Song,
  type Tap,
} from "../song/song";

/** A parallel path as a whole: who goes in, through what, and what of it is fitted to this recording. */
export interface Recipe {
  readonly id: string;
  readonly name: string;
  /** What it is for, in a sentence. */
  readonly help: string;
  readonly kind: "parallel" | "room";
  readonly hears: (piece: Piece) => boolean;
  /** Where it is taken: a space before the fader keeps its distance whatever the mix does. */
  readonly from: Tap;
  readonly chain: readonly ChainPart[];
  /** The compressor of the chain is brought to this reduction at half of the strokes, dB; null: nothing is fitted. */
  readonly wishedDb: number | null;
}

const shells = (piece: Piece) => isShell(piece);
const withoutKick = (piece: Piece) => isShell(piece) && piece !== "kick";
const withRooms = (piece: Piece) => isShell(piece) || piece === "room";
const whole = (piece: Piece) => isShell(piece) || piece === "room" || piece === "overhead";
const comp = (ratio: number, attack: number, release: number): ChainPart => [
  "compressor",
  { threshold: -30, ratio, attack, release, knee: 6 },
];

/** Figures are common practice, no source. */
export const recipes: readonly Recipe[] = [
  {
    id: "crushed",
    name: "Crushed shells",
    help: "Fast and slow to let go, 13 dB down: weight and length under the dry shells.",
    kind: "parallel",
    hears: shells,
    from: "fader",
    chain: [comp(3.5, 0.001, 0.4)],
    wishedDb: 13,
  },
  {
    id: "energy",
    name: "Energy of the kit",
    help: "The whole kit 8 dB down at 6:1, a little brighter: it moves with the playing.",
    kind: "parallel",
    hears: whole,
    from: "fader",
    chain: [comp(6, 0.005, 0.15), ["eq", { highShelfFrequency: 8000, highShelfGain: 2 }]],
    wishedDb: 8,
  },
  {
    id: "firm",
    name: "Firm shells",
    help: "Shells alone, 8 dB down with their attacks let through; cymbals stay dry.",
    kind: "parallel",
    hears: shells,
    from: "fader",
    chain: [comp(4, 0.01, 0.12)],
    wishedDb: 8,
  },
  {
    id: "lively",
    name: "Lively with rooms",
    help: "Shells and rooms, 12 dB down, fast both ways: the room breathes.",
    kind: "parallel",
    hears: withRooms,
    from: "fader",
    chain: [comp(10, 0.0005, 0.06)],
    wishedDb: 12,
  },
  {
    id: "attacks",
    name: "Attacks alone",
    help: "Mids and highs of the kit, attacks up and tails down: stick without wash.",
    kind: "parallel",
    hears: whole,
    from: "fader",
    chain: [
      ["eq", { highPassSlope: "12", highPassFrequency: 300 }],
      ["transient", { attack: 9, attackTime: 0.012, sustain: -24, sustainTime: 0.2, output: -6 }],
    ],
    wishedDb: null,
  },
  {
    id: "dirt",
    name: "Pressed and driven",
    help: "6 dB down, then driven above 200 Hz alone: the low end stays clean.",
    kind: "parallel",
    hears: shells,
    from: "fader",
    chain: [
      comp(4, 0.003, 0.15),
      ["harmonics", { character: "rounded", drive: 14, even: 40, low: 200, level: "matched" }],
    ],
    wishedDb: 6,
  },
  {
    id: "kickMiddle",
    name: "Middle of the kick",
    help: "The kick from 300 Hz to 3 kHz, crushed: heard on small speakers.",
    kind: "parallel",
    hears: (piece) => piece === "kick",
    from: "fader",
    chain: [
      ["eq", { highPassSlope: "12", highPassFrequency: 300, lowPassSlope: "12", lowPassFrequency: 3000 }],
      comp(8, 0.0005, 0.12),
    ],
    wishedDb: 12,
  },
  {
    id: "shortRoom",
    name: "Short room",
    help: "A simulated room of under a second, before the faders, without the kick.",
    kind: "room",
    hears: withoutKick,
    from: "chain",
    chain: [["reverb", { kind: "room", decay: 0.6, early: -6, predelay: 0.004, lowCut: 180 }]],
    wishedDb: null,
  },
  {
    id: "gatedPlate",
    name: "Gated plate",
    help: "A plate that is cut off behind every stroke: the length that a gate took, without the kick.",
    kind: "room",
    hears: withoutKick,
    from: "chain",
    chain: [["reverb", { kind: "plate", decay: 1.4, tailGate: "hits", tailHold: 0.25, lowCut: 180 }]],
    wishedDb: null,
  },
];

/** Level at which a path comes in: it is ridden up from nothing, dB. */
export const pathStarts = -60;

/** Mics that go into a recipe: played ones alone; cymbals' own mics where one wishes them. */
export const sourcesOf = (song: Song, { hears }: Pick<Recipe, "hears">, cymbals = false): Mic[] =>
  song.mics.filter(
    (m) =>
      usable(m) &&
      !m.muted &&
      m.sends.length < limits.sends &&
      (hears(m.piece) || (cymbals && isCymbal(m.piece))),
  );

/**
 * The path of a recipe as one step: its bus before the kit, with its chain, and the sends into it. A reverb stands as far away
 * as the room mics of this kit do. Errors  RangeError in words: nothing goes into it, or a song takes no more buses.
 */
export function pathOf(
  song: Song,
  recipe: Recipe,
  { cymbals = false, fitted = {} }: { cymbals?: boolean; fitted?: ProcessorState["params"] } = {},
): { id: string; operation: Operation } {
  const sources = sourcesOf(song, recipe, cymbals);
  if (sources.length === 0) throw new RangeError(`${recipe.name}: this kit has no mic that would go into it`);
  if (song.buses.length >= limits.buses) throw new RangeError(`a song takes ${limits.buses} buses`);
  const id = freeBusId(song, `path-${recipe.id}`);
  const known = { roomDistance: roomDistance(song)?.metres };
  const tuned = recipe.chain.map(([type, params]): ChainPart => [
    type,
    { ...params, ...tunedTo(type, known), ...(type === "compressor" ? fitted : {}) },
  ]);
  const chain = partsAsChain(id, tuned);
  const bus = newBus(id, recipe.name, recipe.kind, { chain, output: kitOf(song).id, level: pathStarts });
  const ids = song.buses.map((b) => b.id);
  const send: Send = { bus: id, level: 0, from: recipe.from, followsPan: true };
  return {
    id,
    operation: {
      op: "several",
      operations: [
        { op: "addBuses", buses: [bus], order: [...ids.slice(0, -1), id, ...ids.slice(-1)] },
        ...sources.map((m): Operation => ({
          op: "setSends",
          owner: m.id,
          sends: [...ownerOf(song, m.id)!.sends, send],
        })),
      ],
    },
  };
}
