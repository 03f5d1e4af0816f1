import { partsAsChain, type ChainPart } from "../song/chainParts";
import { limits } from "../song/limits";
import type { Operation } from "../song/operations";
import { parallelCopy } from "../song/parallelCopy";
import type { Mic, Song } from "../song/song";
import type { LoopDrum } from "./loopDrums";

/** What can be added to a whole loop while one of its drums sounds. */
export const strokeWays = ["drive", "weight", "brightness"] as const;
export type StrokeWay = (typeof strokeWays)[number];

/** Level at which it comes in: heard beside the loop, and easily ridden up, dB. */
const startsAt = -6;

type Params = ChainPart[1];
/** How long each drum sounds on behind its stroke, s, and where it is loudest, Hz (common practice, no source). */
const drums: Readonly<
  Record<LoopDrum, { readonly hold: number; readonly release: number; readonly band: Params }>
> = {
  kick: { hold: 0.07, release: 0.06, band: { lowPassSlope: "24", lowPassFrequency: 150 } },
  snare: {
    hold: 0.08,
    release: 0.07,
    band: { highPassSlope: "24", highPassFrequency: 150, lowPassSlope: "12", lowPassFrequency: 9000 },
  },
  hat: { hold: 0.02, release: 0.03, band: { highPassSlope: "24", highPassFrequency: 6000 } },
};
/** Where a drum has its weight, and where what makes it bright, Hz (common practice, no source). */
const parts: Readonly<Record<Exclude<StrokeWay, "drive">, Readonly<Record<LoopDrum, Params>>>> = {
  weight: {
    kick: { lowPassSlope: "24", lowPassFrequency: 90 },
    snare: { highPassSlope: "24", highPassFrequency: 140, lowPassSlope: "24", lowPassFrequency: 320 },
    hat: { highPassSlope: "12", highPassFrequency: 3000, lowPassSlope: "12", lowPassFrequency: 9000 },
  },
  brightness: {
    kick: { highPassSlope: "24", highPassFrequency: 2000, lowPassSlope: "24", lowPassFrequency: 6000 },
    snare: { highPassSlope: "24", highPassFrequency: 5000 },
    hat: { highPassSlope: "24", highPassFrequency: 10000 },
  },
};

/** What is let through at the strokes, and what is done to it. */
function chainOf(drum: LoopDrum, way: StrokeWay): readonly ChainPart[] {
  const { hold, release, band } = drums[drum];
  const gate = ["gate", { opens: "hits", range: 90, attack: 0.001, hold, release }] as const;
  if (way !== "drive") return [gate, ["eq", parts[way][drum]]];
  return [gate, ["eq", band], ["saturation", { character: "rounded", drive: 18, even: 30, output: -12 }]];
}

/**
 * Drive, weight or brightness that follow the strokes of one drum in a whole loop: a path beside it, open at those strokes alone, in the drum's
 * own band. Nothing is told apart, so what sounds at the same time in that band gets it, too.
 * Errors  RangeError in words: no stroke of the drum is known, or no bus or send more is to be had.
 */
export function strokePath(
  song: Song,
  loop: Mic,
  drum: LoopDrum,
  way: StrokeWay,
): { id: string; operation: Operation } {
  if (!song.hits.some((h) => h.piece === drum))
    throw new RangeError(
      `no stroke of the ${drum} is known in ${loop.file}: analyse in Gather, or take it apart`,
    );
  if (song.buses.length >= limits.buses) throw new RangeError(`a song takes ${limits.buses} buses`);
  const { id, operation } = parallelCopy(song, loop, "fader");
  const name = `${loop.file.replace(/\.[^.]*$/, "")}: ${way} of ${drum}`.slice(0, 60);
  return {
    id,
    operation: {
      op: "several",
      operations: [
        operation,
        { op: "setChain", owner: id, chain: partsAsChain(id, chainOf(drum, way)) },
        { op: "setBus", bus: id, values: { name, piece: drum, level: startsAt } },
      ],
    },
  };
}
