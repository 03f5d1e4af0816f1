import { plainTempo, steadyBeats } from "../grid/steadyTempo";
import { randomSource } from "../signal/random";
import type { Hit, Piece, Tempo } from "../song/song";

// Strokes and grooves for tests only.
export const hitAt = (piece: Piece, time: number, more: Partial<Hit> = {}): Hit => ({
  piece,
  time,
  levelDb: -8,
  ghost: false,
  kind: "stroke",
  sure: 1,
  ...more,
});

export const steady = (bpm: number, firstBeat: number, seconds: number): Tempo => ({
  ...plainTempo,
  bpm,
  firstBeat,
  beats: steadyBeats(firstBeat, bpm, seconds),
});

/** A groove's strokes in a beat of its bar: drum, place in the beat, ghost note. */
type Pattern = (beat: number, bar: number) => (readonly [piece: Piece, at: number, ghost?: boolean])[];

export const grooves: Record<"rock" | "sixteenths" | "shuffle" | "compound" | "halfTime", Pattern> = {
  rock: (beat, bar) => [
    [beat % 2 ? "snare" : "kick", 0],
    ["hat", 0],
    ["hat", 0.5],
    ...(beat === 2 ? ([["kick", 0.5]] as const) : []),
    ...(beat === 1 ? ([["snare", 0.75, true]] as const) : []),
    ...(beat === 3 && bar % 4 === 3
      ? ([
          ["tom1", 0.25],
          ["tom1", 0.5],
          ["floor", 0.75],
        ] as const)
      : []),
  ],
  sixteenths: (beat) => [
    ["hat", 0],
    ["hat", 0.25],
    ["hat", 0.5],
    ["hat", 0.75],
    ...(beat % 2
      ? ([["snare", 0]] as const)
      : beat === 0
        ? ([
            ["kick", 0],
            ["kick", 0.75],
          ] as const)
        : ([["kick", 0.5]] as const)),
  ],
  shuffle: (beat) => [
    [beat % 2 ? "snare" : "kick", 0],
    ["hat", 0],
    ["hat", 2 / 3],
  ],
  compound: (beat, bar) => [
    [beat ? "snare" : "kick", 0],
    ["hat", 0],
    ["hat", 1 / 3],
    ["hat", 2 / 3],
    ...(!beat && bar % 2 ? ([["kick", 2 / 3]] as const) : []),
  ],
  halfTime: (beat) => [
    ["hat", 0],
    ["hat", 0.5],
    ...(beat === 0
      ? ([["kick", 0]] as const)
      : beat === 2
        ? ([["snare", 0]] as const)
        : beat === 3
          ? ([["kick", 0.5]] as const)
          : []),
  ],
};

/**
 * A groove as somebody plays it: every stroke off by a spread (standard deviation in ms), the tempo by beat.
 * Shape   strokes ascending; the beats as they were meant, and where the playing ends, s.
 */
export function playGroove(
  pattern: Pattern,
  bpmAt: (beat: number) => number,
  { bars = 24, beatsPerBar = 4, spread = 6, seed = 1, from = 0.7 } = {},
): { hits: Hit[]; beats: number[]; end: number } {
  const random = randomSource(seed);
  const off = () => ((random() + random() + random() + random() - 2) * Math.sqrt(3) * spread) / 1000;
  const hits: Hit[] = [];
  const beats: number[] = [];
  let t = from;
  for (let b = 0; b < bars * beatsPerBar; b++) {
    const length = 60 / bpmAt(b);
    beats.push(t);
    for (const [piece, at, ghost = false] of pattern(b % beatsPerBar, Math.floor(b / beatsPerBar)))
      hits.push(hitAt(piece, t + at * length + off(), { ghost }));
    t += length;
  }
  return { hits: hits.sort((a, b) => a.time - b.time), beats, end: t };
}
