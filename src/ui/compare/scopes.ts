import type { Comparison } from "../../core/listen/listening";
import { otherSide } from "../../core/listen/otherSide";
import { processorType } from "../../core/processors";
import { ownerOf } from "../../core/song/graph";
import type { ProcessorState, Song, Step } from "../../core/song/song";

/** What a comparison switches. */
export const scopes = [
  "processor",
  "chain",
  "drum",
  "step",
  "parallel",
  "everything",
  "version",
  "flavour",
  "reference",
] as const;
export type Scope = (typeof scopes)[number];

const belongs = (step: Step, { type }: ProcessorState): boolean => processorType(type).step === step;
/** True for what shapes the sound, beyond its level and place. */
const shapes = ({ type }: ProcessorState): boolean =>
  !["level", "place"].includes(processorType(type).keeps ?? "");

/** Processors that a step has set, of one drum's mics or of all; Blend: those of the kit bus. */
export function processorsOf(song: Song, step: Step, piece: string | null): string[] {
  if (step === "blend" || step === "deliver")
    return song.buses
      .filter((b) => b.output === null)
      .flatMap((b) => b.chain.filter((p) => p.on).map((p) => p.id));
  return song.mics
    .filter((m) => piece === null || m.piece === piece)
    .flatMap((m) => m.chain.filter((p) => p.on && belongs(step, p)).map((p) => p.id));
}

/** What stands on the bench, as far as a comparison asks. */
export interface Bench {
  readonly step: Step;
  readonly piece: string | null;
  readonly mic: string | null;
  /** A bus on the bench, before the mic. */
  readonly bus?: string | null;
  readonly processor: string | null;
}

/** All that shapes one mic beyond trim and place, or one bus. */
function chainOf(song: Song, { mic, bus, processor }: Bench): string[] {
  const found = song.buses.find((b) => b.chain.some((p) => p.id === processor));
  const owner = found ?? ownerOf(song, bus ?? mic);
  return owner?.chain.filter((p) => p.on && shapes(p)).map((p) => p.id) ?? [];
}

/**
 * The comparison that a scope means for what is on the bench.
 * `other`: the song that an earlier state or a flavour is; null: none is chosen.
 */
export function comparisonOf(song: Song, scope: Scope, bench: Bench, other: Song | null): Comparison {
  const { step, piece, processor } = bench;
  const processors = (ids: string[]): Comparison =>
    ids.length > 0 ? { kind: "processors", ids } : { kind: "nothing" };
  switch (scope) {
    case "processor":
      return processors(processor ? [processor] : []);
    case "chain":
      return processors(chainOf(song, bench));
    case "drum":
      return step === "tighten"
        ? { kind: "timing" }
        : processors(piece ? processorsOf(song, step, piece) : []);
    case "step":
      return step === "tighten" ? { kind: "timing" } : processors(processorsOf(song, step, null));
    case "parallel":
      return { kind: "parallel" };
    case "everything":
      return { kind: "untreated" };
    case "version":
    case "flavour":
      return other && otherSide(song, { kind: "version", song: other })
        ? { kind: "version", song: other }
        : { kind: "nothing" };
    case "reference":
      return song.referenceRecord ? { kind: "reference" } : { kind: "nothing" };
  }
}
