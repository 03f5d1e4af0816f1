"use client";
import { processorType } from "../../core/processors";
import { firstOf } from "../../core/song/create";
import { ownerOf } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import type { Proposal } from "../../core/song/proposal";
import { isMic } from "../../core/song/graph";
import { inputOf } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { ProposalCard } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../shared/useMic";
import { figuresOf } from "./strokeWords";

/** A proposal for one mic, its figure measured as the picture beside it measures: behind what stands before it now. */
export function MeasuredCard({ proposal }: { proposal: Proposal }) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const taken = applyOperation(song, proposal.operation).song;
  const owner = ownerOf(taken, proposal.owner);
  const type = processorType(proposal.id.slice(0, proposal.id.indexOf(":")));
  const state = owner && firstOf(owner, type.type);
  const { picture } = type;
  const asked = owner && isMic(owner) && state && picture?.over === "strokes" ? { ...inputOf(taken, id, owner, state.id), state, owner } : null; // prettier-ignore
  const { value, busy } = useEvidence(
    "effect",
    asked ? JSON.stringify([asked.key, asked.state.type, asked.state.params]) : "",
    asked && {
      input: asked.input,
      processor: asked.state,
      mains: strokesIn(song.hits, asked.owner, song.sampleRate).mains,
      ring: null,
    },
  );
  if (!asked || picture?.over !== "strokes" || type.picture === null) return <ProposalCard proposal={proposal} />;
  const tellsRing = picture.ring !== undefined;
  if (!value || busy || tellsRing) return <ProposalCard proposal={proposal} />;
  const f = figuresOf(value);
  const figure =
    picture.shows === "reductions" ? `−${f.reduction.toFixed(1)} dB per stroke` : `${signed(f.peaks, 1)} dB peak`;
  return <ProposalCard proposal={{ ...proposal, figure: `${figure} here` }} />;
} // prettier-ignore
