"use client";
import { processorType } from "../../core/processors";
import { firstOf } from "../../core/song/create";
import { ownerOf } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import { aboutOf, type Proposal } from "../../core/song/proposal";
import { inputOf } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { ProposalCard } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";
import { figuresOf } from "./strokeWords";

/**
 * A proposal for one mic or bus, its figure measured as the picture beside it measures: behind what stands before it now. Proposals
 * whose figure is no reduction and no peak keep that of the analysis.
 */
export function MeasuredCard({ proposal }: { proposal: Proposal }) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const { type, picture } = processorType(aboutOf(proposal));
  const taken = applyOperation(song, proposal.operation).song;
  const owner = ownerOf(taken, proposal.owner);
  const state = owner && firstOf(owner, type);
  const measures = picture?.over === "strokes" && picture.ring === undefined;
  const asked = owner && state && measures ? inputOf(taken, id, owner, state.id) : null;
  const { value, busy } = useEvidence(
    "effect",
    asked ? JSON.stringify([asked.key, type, state!.params]) : "",
    asked && {
      input: asked.input,
      processor: state!,
      mains: strokesIn(taken, owner!).mains,
      ring: null,
    },
  );
  if (!value || busy || picture?.over !== "strokes") return <ProposalCard proposal={proposal} />;
  const { reduction, peaks } = figuresOf(value);
  const figure =
    picture.shows === "reductions" ? `−${reduction.toFixed(1)} dB per stroke` : `${signed(peaks, 1)} dB peak`;
  return <ProposalCard proposal={{ ...proposal, figure: `${figure} here` }} />;
}
