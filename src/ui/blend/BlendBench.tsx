"use client";
import { useState } from "react";
import { ProcessorPanel } from "../shared/ProcessorPanel";
import { ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { MixTable } from "./MixTable";

/** Blend: levels, pan, sends and buses as a table; the chain of the chosen bus beside it. */
export function BlendBench() {
  const song = useSong((s) => s.song!);
  const proposals = useProposals("blend");
  const [busId, setBusId] = useState("squash");
  const bus = song.buses.find((b) => b.id === busId) ?? song.buses[0]!;
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <MixTable chosenBus={bus.id} chooseBus={setBusId} />
      </div>
      <aside className="settings">
        <ProposalTable title="Blend" proposals={proposals} />
        <h2>{bus.name}</h2>
        {bus.chain.map((p) => (
          <ProcessorPanel
            key={p.id}
            owner={bus}
            state={p}
          />
        ))}
      </aside>
    </div>
  );
}
