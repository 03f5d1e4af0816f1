import { firstAbove } from "../signal/ascending";
import type { Treatment, Verdict } from "../facts/treatment";
import { decayTime } from "../measure/decay";
import { processChain } from "../engine/processChain";
import { median, quantile } from "../signal/level";
import type { ParamValue } from "../params";
import type { Facts } from "../facts/facts";
import { firstOf } from "../song/create";
import { putProcessor } from "../song/putProcessor";
import type { Operation } from "../song/operations";
import { isShell, type Mic, type ProcessorState, type Song } from "../song/song";
import { gateBehindCancel, plainGate } from "./gates";

/** Openings where no tail was measured, s. */
const usualHold = 0.15;
/** The dynamic EQ's depth at rest in dB, and its releases in s: common practice. */
const depth = 18;
const lowRelease = 0.1;
const highRelease = 0.03;

/** How many drums a mic can tell from its own; 0 before an analysis. */
export const othersHeard = ({ bleed }: Pick<Song, "bleed">, m: Mic): number =>
  Object.keys(bleed[m.id]?.[0]?.drums ?? {}).filter((p) => p !== m.piece).length;

/** The ways to clean a shell's mic: as proposed, and others. Empty for other mics, and where no strokes are known. */
export function treatmentsOf(song: Pick<Song, "bleed">, mic: Mic, facts: Facts): Treatment[] {
  const alone = plainGate(facts, mic);
  if (!isShell(mic.piece) || !alone) return [];
  const tails = facts.tails[mic.id];
  const gate = alone.params;
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
  const behind = gateBehindCancel(facts, mic)?.params ?? null;
  return [
    ...(othersHeard(song, mic) > 0
      ? [{ id: "cancel", cancel: true, gate: behind, dynamicEq: null } as const]
      : []),
    { id: "gate", cancel: false, gate, dynamicEq: null },
    { id: "dynamicEq", cancel: false, gate: null, dynamicEq },
    { id: "both", cancel: false, gate: gentle, dynamicEq },
  ];
}

/** Operations that clean a mic in a way: what belongs to it is on, the rest of Clean off. */
export const setTreatment = (mic: Mic, way: Treatment): Operation[] =>
  (["cancel", "gate", "dynamicEq"] as const).flatMap((type): Operation[] => {
    const values = way[type];
    // Nothing has to be put in to be off.
    if (!values && !firstOf(mic, type)) return [];
    return [
      putProcessor(mic, type, typeof values === "object" && values !== null ? values : {}, Boolean(values)),
    ];
  });

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

/** A decay is followed in steps of this, s, until the next stroke of the drum in most cases, s. */
const decayStep = 0.005;
const decayRange = [0.25, 1.2] as const;
/** Share of the strokes behind which another may come before their decay is over. */
const shortGaps = 0.4;

/** Main strokes whose decay no other stroke of the drum cuts short, and how many steps it may be followed. */
function decaysOf(
  mains: readonly number[],
  ghosts: readonly number[],
  sampleRate: number,
): { starts: readonly number[]; steps: number } {
  const all = [...mains, ...ghosts].sort((a, b) => a - b);
  const gapOf = (f: number) => ((all[firstAbove(all, f + 1)] ?? Infinity) - f) / sampleRate;
  const gaps = mains.map(gapOf);
  const usual = gaps.length > 0 ? quantile(gaps, shortGaps) : 0;
  const length = Math.min(decayRange[1], Math.max(decayRange[0], usual - 0.01));
  return { starts: mains.filter((_, i) => gaps[i]! >= length), steps: Math.floor(length / decayStep) };
}

/** Seconds of a song that are judged, and events of each kind. */
const longest = 75;
const most = 80;

/**
 * Runs a chain over the first part of a mic and measures what it did.
 * `cancelled`: what the chain gets when that is not the mic as recorded.
 */
export function judgeTreatment(
  chain: readonly ProcessorState[],
  input: readonly Float32Array[],
  { mains, ghosts, bleed }: Instants,
  hits: Float64Array,
  sampleRate: number,
  cancelled: readonly Float32Array[] = input,
): Verdict {
  const frames = Math.min(input[0]!.length, Math.round(longest * sampleRate));
  const [x, into] = [input, cancelled].map((list) => list.map((c) => c.subarray(0, frames))) as [
    Float32Array[],
    Float32Array[],
  ];
  const raw = processChain(
    chain.filter((p) => p.type === "trim"),
    x,
    sampleRate,
    Float64Array.from(hits),
  )[0]!;
  const treated = processChain(chain, into, sampleRate, Float64Array.from(hits))[0]!;
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
  const { starts, steps } = decaysOf(within(mains), ghosts, sampleRate);
  const middle = (list: number[]) => (list.length > 0 ? median(list) : 0);
  return {
    bleedDb: 10 * Math.log10(total(treated) / total(raw)),
    strokesDb: middle(within(mains).map((at) => change(at, -0.001, 0.08))),
    ghostsKept: kept,
    ghosts: within(ghosts).length,
    sustainDb: middle(within(mains).map((at) => change(at, 0.08, 0.25))),
    decay: decayTime(
      Array.from({ length: steps }, (_, i) =>
        starts.reduce((sum, at) => sum + energy(treated, at, i * decayStep, (i + 1) * decayStep), 0),
      ),
      decayStep,
    ),
  };
}
