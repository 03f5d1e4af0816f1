import { processChain } from "../engine/processChain";
import { median } from "../signal/level";
import type { ParamValue } from "../params";
import { isShell, type Mic, type ProcessorState } from "../song/song";
import type { Tails } from "./tails";

/** A way of holding bleed down between the strokes. */
export interface Treatment {
  readonly id: "gate" | "dynamicEq" | "both";
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
}

/** Openings where no tail was measured, s. */
const usualHold = 0.15;
/** The dynamic EQ's depth at rest in dB, and its releases in s: common practice. */
const depth = 18;
const lowRelease = 0.1;
const highRelease = 0.03;

/** The treatments of a shell's mic, its gate as it stands or is proposed. Empty for other mics. */
export function treatmentsOf(
  mic: Mic,
  tails: Tails | undefined,
  gate: Readonly<Record<string, ParamValue>>,
): Treatment[] {
  if (!isShell(mic.piece)) return [];
  const low = 0.6 * (tails?.low.hold ?? usualHold);
  const high = 0.6 * (tails?.high.hold ?? usualHold);
  const hold = (s: number) => Math.min(0.5, Math.max(0.03, Math.round(200 * s) / 200));
  const dynamicEq: Record<string, ParamValue> = {
    opens: "hits",
    lowShape: "low shelf",
    lowFrequency: tails?.corner ?? 700,
    lowGain: -depth,
    lowRange: depth,
    lowHold: hold(low),
    lowRelease,
    highShape: "high shelf",
    highFrequency: tails?.corner ?? 700,
    highGain: -depth,
    highRange: depth,
    highHold: hold(high),
    highRelease,
  };
  const gentle = { ...gate, range: Math.min(12, gate["range"] as number) };
  return [
    { id: "gate", gate, dynamicEq: null },
    { id: "dynamicEq", gate: null, dynamicEq },
    { id: "both", gate: gentle, dynamicEq },
  ];
}

/** The mic's chain up to its cleaning with a treatment in it. */
export const chainWith = (mic: Mic, { gate, dynamicEq }: Treatment): ProcessorState[] =>
  mic.chain.flatMap((p): ProcessorState[] => {
    const params = p.type === "gate" ? gate : p.type === "dynamicEq" ? dynamicEq : null;
    return params ? [{ ...p, on: true, params: { ...p.params, ...params } }] : p.type === "trim" ? [p] : [];
  });

/** Frames of the recording at which something is judged. */
export interface Instants {
  readonly mains: readonly number[];
  readonly ghosts: readonly number[];
  readonly bleed: readonly number[];
}

/** Seconds of a song that are judged, and events of each kind. */
const longest = 75;
const most = 80;

/** Runs a chain over the first part of a mic and measures what it did. */
export function judgeTreatment(
  chain: readonly ProcessorState[],
  input: readonly Float32Array[],
  { mains, ghosts, bleed }: Instants,
  hits: Float64Array,
  sampleRate: number,
): Verdict {
  const frames = Math.min(input[0]!.length, Math.round(longest * sampleRate));
  const x = input.map((c) => c.subarray(0, frames));
  const raw = processChain(chain.filter((p) => p.type === "trim"), x, sampleRate, Float64Array.from(hits))[0]!; // prettier-ignore
  const treated = processChain(chain, x, sampleRate, Float64Array.from(hits))[0]!;
  const within = (list: readonly number[]) =>
    list.filter((f) => f > 0 && f + 0.3 * sampleRate < frames).slice(0, most);
  const energy = (y: Float32Array, at: number, from: number, to: number) => {
    let sum = 1e-12;
    for (let i = Math.round(at + from * sampleRate); i < Math.round(at + to * sampleRate); i++)
      sum += (y[i] ?? 0) ** 2;
    return sum;
  };
  const change = (at: number, from: number, to: number) =>
    10 * Math.log10(energy(treated, at, from, to) / energy(raw, at, from, to));
  const total = (y: Float32Array) =>
    within(bleed).reduce((sum, at) => sum + energy(y, at, -0.002, 0.06), 1e-12);
  const kept = within(ghosts).filter((at) => change(at, -0.001, 0.04) > -3).length;
  const middle = (list: number[]) => (list.length > 0 ? median(list) : 0);
  return {
    bleedDb: 10 * Math.log10(total(treated) / total(raw)),
    strokesDb: middle(within(mains).map((at) => change(at, -0.001, 0.08))),
    ghostsKept: kept,
    ghosts: within(ghosts).length,
    sustainDb: middle(within(mains).map((at) => change(at, 0.08, 0.25))),
  };
}
