import type { ParamValue } from "../params";

/** A way of holding bleed down between the strokes. */
export interface Treatment {
  readonly id: "cancel" | "gate" | "dynamicEq" | "both";
  readonly cancel: boolean;
  /** Parameters of the processors that are on; the others of Clean are off. */
  readonly gate: Readonly<Record<string, ParamValue>> | null;
  readonly dynamicEq: Readonly<Record<string, ParamValue>> | null;
}

/** What a treatment gains and costs, against the mic without any. */
export interface Verdict {
  /** Bleed at other drums' strokes, dB. */
  readonly bleedDb: number;
  /** Energy of the main strokes in their first 80 ms, in the middle, dB. */
  readonly strokesDb: number;
  /** Ghost notes that lose less than 3 dB, of all. */
  readonly ghostsKept: number;
  readonly ghosts: number;
  /** Energy of the main strokes between 80 and 250 ms, in the middle, dB: their sustain. */
  readonly sustainDb: number;
  /** T60 of the average main stroke, s; null: it does not fall far enough to tell. */
  readonly decay: number | null;
}

/** Best way that does good in a mic, the gentlest of those that cost too much left out; what it does. */
export interface CleaningChoice {
  readonly way: "gated" | "cancelled" | "none";
  /** Of the way, or of cancelling where nothing is left to propose. */
  readonly verdict: Verdict;
}
