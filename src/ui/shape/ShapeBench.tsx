"use client";
import { useMemo, useState } from "react";
import { processorOf } from "../../core/song/create";
import { shortName } from "../shared/format";
import { MicTabs } from "../shared/MicTabs";
import { Nothing } from "../shared/Nothing";
import { ProposalCard, ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useMic } from "../shared/useMic";
import { useProposals } from "../shared/useProposals";
import { DynamicsPictures } from "./DynamicsPictures";
import { EqPicture } from "./EqPicture";
import { ProcessorPanel } from "../shared/ProcessorPanel";
import { inSection, useSection } from "../shared/sectionChoice";

const tabs = ["eq", "compressor", "saturation"] as const;
type Tab = (typeof tabs)[number];
const names: Record<Tab, string> = { eq: "EQ", compressor: "Compressor", saturation: "Saturation" };
/** Shape: EQ, compressor and saturation of the chosen mic, each over all strokes. */
export function ShapeBench() {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  const analysed = useSong((s) => s.analysed);
  const found = useMic();
  const section = useSection();
  const mic = useMemo(() => found && inSection(found, section), [found, section]);
  const proposals = useProposals("shape");
  const [tab, setTab] = useState<Tab>("eq");
  if (!analysed) return <Nothing>Analyse the kit in Gather first; then the strokes are known.</Nothing>;
  if (!mic || piece === null)
    return (
      <div className="bench-columns">
        <div className="evidence scrolls">
          <p className="lead">
            Choose a drum on the plan to shape it over all its strokes, or take the proposals.
          </p>
          <ProposalTable title="Shape the whole kit" proposals={proposals} />
        </div>
      </div>
    );
  if (mic.silent) return <Nothing>{shortName(mic.file)} is silent.</Nothing>;
  const state = processorOf(mic, tab);
  const own = proposals.filter((p) => p.id === `${tab}:${mic.id}`);
  return (
    <>
      <div className="bench-head">
        <MicTabs mics={song.mics.filter((m) => m.piece === piece)} />
        <div className="mic-tabs" role="group" aria-label="Processor">
          {tabs.map((t) => (
            <button
              key={t}
              type="button"
              aria-pressed={t === tab}
              className={t === tab ? "chosen" : ""}
              onClick={() => {
                setTab(t);
                useSong.getState().chooseProcessor(processorOf(mic, t).id);
              }}
            >
              {names[t]}
              {processorOf(mic, t).on ? "" : " (off)"}
            </button>
          ))}
        </div>
      </div>
      <div className="bench-columns">
        <div className="evidence">
          {tab === "eq" ? (
            <EqPicture key={mic.id} mic={mic} state={state} />
          ) : (
            <DynamicsPictures key={`${mic.id} ${tab}`} mic={mic} state={state} />
          )}
        </div>
        <aside className="settings">
          {own.map((p) => (
            <ProposalCard key={p.id} proposal={p} />
          ))}
          <ProcessorPanel
            key={state.id}
            owner={mic}
            state={state}
          />
        </aside>
      </div>
    </>
  );
}
