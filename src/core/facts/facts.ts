import type { HeardStrokes } from "./heardStrokes";
import type { LayerTiming } from "./layerTiming";
import type { CleaningChoice } from "./treatment";
import type { LowEnd } from "./lowEnd";
import type { ShapedDrum } from "./shapedDrum";
import type { RingDecay } from "./ringDecay";
import type { Tails } from "./tails";
import type { PieceEvents } from "../hits/events";
import type { MicLabels } from "../song/relabel";
import type { Faults } from "./faults";
import type { Flavour, Piece } from "../song/song";

/** What the proposals of a song know beyond it, as the analysis stores it. */
/** What was found of a drum's own sound: lowest partial, strongest ring, Hz, and by how much that stands out, dB. */
export interface Tone {
  readonly fundamental: number;
  readonly ring: number;
  readonly ringDb: number;
}

export interface Facts {
  /** By mic id: polarity and delay against the main mic. */
  readonly pairs: Readonly<
    Record<
      string,
      {
        polarity: 1 | -1;
        delaySamples: number;
        confidence: number;
        gainDb: number;
        /** Strokes it was measured over. */
        strokes: number;
        /** Too few or too unlike strokes to propose anything. */
        thin: boolean;
        driftPpm: number;
      }
    >
  >;
  /** By mic id: cut tops, noise, offset. */
  readonly faults: Readonly<Record<string, Faults>>;
  /** By mic id: millionths by which its recorder's clock runs off, what was corrected before included (clockLeft). */
  readonly drift: Readonly<Record<string, number>>;
  /** By mic id of a second mic: the phase rotation that brings it nearer to its main mic than any delay, and its gain in dB. */
  readonly rotation: Readonly<Record<string, { frequency: number; q: number; gainDb: number }>>;
  /** By mic id: levels of the strokes and of the bleed, dBFS. */
  readonly levels: Readonly<Record<string, { hits: number[]; ghosts: number[]; bleed: number[] }>>;
  /** By mic id of a shell: when its drum's tail has sunk to the bleed. */
  readonly tails: Readonly<Record<string, Tails>>;
  /** By mic id: what the strokes' spectrum shows, Hz and dB. */
  readonly tone: Readonly<Record<string, Tone>>;
  /** By mic id of a shell: how long its ring lasts. */
  readonly rings: Readonly<Record<string, RingDecay>>;
  /** By mic id of a kick or tom: how unlike the low end of its strokes is. */
  readonly lowEnds: Readonly<Record<string, LowEnd>>;
  /** By mic id of a shell: what every flavour makes of it. */
  readonly shapes: Readonly<Record<string, Readonly<Record<Flavour, ShapedDrum>>>>;
  /** By mic id of a far mic: when each drum arrives in it, frames after its main close mic. */
  readonly arrivals: Readonly<
    Record<
      string,
      readonly { piece: Piece; channel: number; delaySamples: number; polarity: 1 | -1; confidence: number }[]
    >
  >;
  /** By mic id of a cymbal: pan in % at which it sits where the overheads put the cymbal. */
  readonly pans: Readonly<Record<string, number>>;
  /** By mic id: how loud the drums' strokes are in it. */
  readonly heardStrokes: Readonly<Record<string, HeardStrokes>>;
  /** By mic id: loudness, LUFS. */
  readonly loudness: Readonly<Record<string, number>>;
  /** By mic id of a layer whose strokes stray against its drum: by how much each. */
  readonly layers: Readonly<Record<string, LayerTiming & { readonly delay: number }>>;
  /** By mic id of a shell: how it is best cleaned, judged by what that does to it. */
  readonly cleaning: Readonly<Record<string, CleaningChoice>>;
  /** By mic id: the labels by which all this was measured. */
  readonly labels: MicLabels;
  /** By drum with a mic of its own: what happens in that mic, as far as it may be a stroke. */
  readonly events: Readonly<Record<string, PieceEvents>>;
}

export const noFacts: Facts = {
  pairs: {},
  drift: {},
  faults: {},
  rotation: {},
  levels: {},
  tails: {},
  tone: {},
  rings: {},
  lowEnds: {},
  shapes: {},
  arrivals: {},
  pans: {},
  heardStrokes: {},
  loudness: {},
  layers: {},
  cleaning: {},
  labels: {},
  events: {},
};

/** Corrections smaller than this are none, ppm: a frame in half a minute. */
const leastPpm = 0.7;
/** Millionths by which a mic's clock still runs off after what was corrected; 0: it is right. */
export function clockLeft(facts: Facts, mic: { readonly id: string; readonly clockPpm: number }): number {
  const left = (facts.drift[mic.id] ?? mic.clockPpm) - mic.clockPpm;
  return Math.abs(left) < leastPpm ? 0 : left;
}
