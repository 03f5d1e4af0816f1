"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { isFree } from "../../core/song/chain";
import { isMic, kitOf, type Owner } from "../../core/song/graph";
import { limits } from "../../core/song/limits";
import { addedBus } from "../../core/song/parallelCopy";
import { ChainRow } from "../chain/ChainRow";
import type { ProcessorState } from "../../core/song/song";
import { Nothing } from "../shared/Nothing";
import { ChainSettings } from "../shared/ChainSettings";
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
import { KitFinish } from "./KitFinish";
import { KitPlace } from "./KitPlace";
import { MixTable } from "./mix/MixTable";
import { OwnerPanel } from "./OwnerPanel";
import { RecordBench } from "./RecordBench";
import { SendsPanel } from "./SendsPanel";

/** What the chosen processor does to the strokes that come into its mic or bus. */
function Does({ owner, state }: BenchProps) {
  const analysed = useSong((s) => s.analysed);
  if (!analysed) return <Nothing>Analyse the kit in Gather first; then the strokes are known.</Nothing>;
  if (!state) return <Nothing>Nothing is in this chain yet: add a processor above.</Nothing>;
  return <ProcessorPicture owner={owner} state={state} />;
}

const views = [
  ["levels", "Levels"],
  ["ways", "Who feeds whom"],
  ["does", "What it does"],
  ["checks", "Checks"],
  ["record", "Record"],
  ["revisions", "Revisions"],
] as const;
type View = (typeof views)[number][0];

/** What is shown of the mix, and what can be added to it. */
function Head({ view, show }: { view: View; show: (view: View) => void }) {
  const song = useSong((s) => s.song!);
  const add = () => {
    const { change, chooseBus } = useSong.getState();
    const { id, operation } = addedBus(song, "New bus", kitOf(song).id);
    change("A bus more", operation);
    chooseBus(id);
  };
  return (
    <div className="bench-head">
      <div className="mic-tabs" role="group" aria-label="What is shown">
        {views.map(([value, label]) => (
          <button
            key={value}
            type="button"
            aria-pressed={view === value}
            className={view === value ? "chosen" : ""}
            onClick={() => show(value)}
          >
            {label}
          </button>
        ))}
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
  );
}

interface BenchProps {
  readonly owner: Owner;
  readonly state: ProcessorState | undefined;
}

/** What is set of the chosen mic or bus. */
function Settings({ owner, state }: BenchProps) {
  const proposals = useProposals("blend");
  // For the whole kit what is proposed comes first; beside a mic or bus, last.
  const open = <ProposalTable title="Blend" proposals={proposals} />;
  const isKit = owner.output === null;
  return (
    <aside className="settings">
      {isKit && open}
      <OwnerPanel key={owner.id} owner={owner} />
      {isKit && <KitFinish kit={owner} />}
      {isKit && <KitPlace />}
      <FaderMoves owner={owner} />
      <SendsPanel owner={owner} />
      {state && <ChainSettings key={state.id} owner={owner} state={state} />}
      {!isKit && open}
    </aside>
  );
}

/** Blend: who feeds whom as a picture and as a table; the chain, the way and the sends of the chosen mic or bus. */
export function BlendBench() {
  const chosen = useSong((s) => s.processor);
  const [view, setView] = useState<View>("levels");
  const owner = useBenchOwner();
  const { chooseMic, chooseBus } = useSong.getState();
  const choose = (o: Owner) => (isMic(o) ? chooseMic(o.id) : chooseBus(o.id));
  const free = owner.chain.filter(isFree);
  const state = free.find((p) => p.id === chosen) ?? free.find((p) => p.on) ?? free[0];
  return (
    <>
      <Head view={view} show={setView} />
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
        <Settings owner={owner} state={state} />
      </div>
    </>
  );
}
