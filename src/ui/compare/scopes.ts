import type { Song, Step } from "../../core/song/song";

/** What a comparison switches: one processor, this step on one drum, this step on the whole kit, all that was done. */
export const scopes = ["processor", "drum", "step", "everything"] as const;
export type Scope = (typeof scopes)[number];

const stepTypes: Record<Step, readonly string[]> = {
  gather: ["trim"],
  align: ["delay", "polarity"],
  tighten: [],
  clean: ["gate", "dynamicEq"],
  shape: ["eq", "compressor", "saturation"],
  blend: [],
  deliver: [],
};

/** Processors that a step has set, of one drum's mics or of all; Blend: those of the kit bus. */
export function processorsOf(song: Song, step: Step, piece: string | null): string[] {
  if (step === "blend" || step === "deliver")
    return song.buses
      .filter((b) => b.output === null)
      .flatMap((b) => b.chain.filter((p) => p.on).map((p) => p.id));
  return song.mics
    .filter((m) => piece === null || m.piece === piece)
    .flatMap((m) => m.chain.filter((p) => p.on && stepTypes[step].includes(p.type)).map((p) => p.id));
}
