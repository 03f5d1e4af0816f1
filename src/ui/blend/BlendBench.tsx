"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { isFree } from "../../core/song/chain";
import { isMic, kitOf, type Owner } from "../../core/song/graph";
import { limits } from "../../core/song/limits";
import { addedBus } from "../../core/song/parallelCopy";
import { processorType } from "../../core/processors";
import { ChainRow } from "../chain/ChainRow";
import type { ProcessorState } from "../../core/song/song";
import { KeyChoice } from "../shared/KeyChoice";
import { Nothing } from "../shared/Nothing";
import { ProcessorPanel } from "../shared/ProcessorPanel";
import { ResponseChoice } from "../shared/ResponseChoice";
import { ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { ProcessorPicture } from "../shape/ProcessorPicture";
import { Revisions } from "../revisions/Revisions";
import { useBenchOwner } from "./benchOwner";
import { AddPath } from "./AddPath";
import { FaderMoves } from "./moves/FaderMoves";
import { GraphPicture } from "./graph/GraphPicture";
import { KitChecks } from "./KitChecks";
import { KitDistance } from "../shared/KitDistance";
import { KitFinish } from "./KitFinish";
import { KitPlace } from "./KitPlace";
import { MixTable } from "./mix/MixTable";
import { OwnerPanel } from "./OwnerPanel";
import { RecordBench } from "./RecordBench";
import { SendsPanel } from "./SendsPanel";

/** What the chosen processor does to the strokes that come into its mic or bus. */
function Does({ owner, state }: { owner: Owner; state: ProcessorState | undefined }) {
  const analysed = useSong((s) => s.analysed);
  if (!analysed) return <Nothing>Analyse the kit in Gather first; then the strokes are known.</Nothing>;
  if (!state) return <Nothing>Nothing is in this chain yet: add a processor above.</Nothing>;
  return <ProcessorPicture owner={owner} state={state} />;
}

/** Blend: who feeds whom as a picture and as a table; the chain, the way and the sends of the chosen mic or bus. */
export function BlendBench() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.processor);
  const proposals = useProposals("blend");
  const [view, setView] = useState<"levels" | "ways" | "does" | "checks" | "record" | "revisions">("levels");
  const owner = useBenchOwner();
  const { change, chooseMic, chooseBus } = useSong.getState();
  const choose = (o: Owner) => (isMic(o) ? chooseMic(o.id) : chooseBus(o.id));
  const free = owner.chain.filter(isFree);
  const state = free.find((p) => p.id === chosen) ?? free.find((p) => p.on) ?? free[0];
  const add = () => {
    const { id, operation } = addedBus(song, "New bus", kitOf(song).id);
    change("A bus more", operation);
    chooseBus(id);
  };
  // For the whole kit what is proposed comes first; beside a mic or bus, last.
  const open = <ProposalTable title="Blend" proposals={proposals} />;
  const tab = (value: typeof view, label: string) => (
    <button
      type="button"
      aria-pressed={view === value}
      className={view === value ? "chosen" : ""}
      onClick={() => setView(value)}
    >
      {label}
    </button>
  );
  return (
    <>
      <div className="bench-head">
        <div className="mic-tabs" role="group" aria-label="What is shown">
          {tab("levels", "Levels")}
          {tab("ways", "Who feeds whom")}
          {tab("does", "What it does")}
          {tab("checks", "Checks")}
          {tab("record", "Record")}
          {tab("revisions", "Revisions")}
        </div>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={song.buses.length >= limits.buses}
          title={`A bus of one's own; a song takes ${limits.buses}`}
          onClick={add}
        >
          Add a bus
        </Button>
        <AddPath />
      </div>
      <ChainRow key={owner.id} owner={owner} shown={state?.id ?? null} />
      <div className="bench-columns">
        <div className={view === "does" ? "evidence" : "evidence scrolls"}>
          {view === "levels" && <MixTable chosen={owner.id} choose={choose} />}
          {view === "ways" && <GraphPicture chosen={owner.id} choose={choose} />}
          {view === "does" && <Does owner={owner} state={state} />}
          {view === "checks" && <KitChecks />}
          {view === "record" && <RecordBench />}
          {view === "revisions" && <Revisions />}
        </div>
        <aside className="settings">
          {owner.output === null && open}
          <OwnerPanel key={owner.id} owner={owner} />
          {owner.output === null && <KitFinish kit={owner} />}
          {owner.output === null && <KitPlace />}
          <FaderMoves owner={owner} />
          <SendsPanel owner={owner} />
          {state && (
            <ProcessorPanel key={state.id} owner={owner} state={state}>
              {processorType(state.type).listens && <KeyChoice owner={owner} state={state} />}
              {processorType(state.type).responds && <ResponseChoice owner={owner} state={state} />}
              <KitDistance owner={owner} state={state} />
            </ProcessorPanel>
          )}
          {owner.output !== null && open}
        </aside>
      </div>
    </>
  );
}
