"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { processorType } from "../../core/processors";
import { micsOf } from "../../core/song/kitOrder";
import { isFree } from "../../core/song/chain";
import { isMic, kitOf, type Owner } from "../../core/song/graph";
import { isDrum, isShell, type Mic, type Piece, type ProcessorState } from "../../core/song/song";
import { isQuick } from "../../core/shape/quick/turnQuick";
import { ChainRow } from "../chain/ChainRow";
import { shortName } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { OwnerTabs } from "../shared/OwnerTabs";
import { ChainSettings } from "../shared/ChainSettings";
import { useSong } from "../shared/songStore";
import { useMic, useMicHere } from "../shared/useMic";
import { useProposals } from "../shared/useProposals";
import { FlavourChoice } from "./FlavourChoice";
import { LoopBench } from "./loops/LoopBench";
import { LayersBench, layersOf } from "./layers/LayersBench";
import { MaskingBench } from "./masking/MaskingBench";
import { KitTable } from "./KitTable";
import { MeasuredCard } from "./MeasuredCard";
import { QuickControls } from "./QuickControls";
import { TomsTogether } from "./TomsTogether";
import { ProcessorPicture } from "./ProcessorPicture";

/** The processor on the bench: the chosen one, else the first that shapes and is on, else the first there is. */
function onBench({ chain }: Owner, chosen: string | null): ProcessorState | undefined {
  const free = chain.filter(isFree);
  const shapes = free.filter((p) => processorType(p.type).step === "shape");
  return free.find((p) => p.id === chosen) ?? shapes.find((p) => p.on) ?? shapes[0] ?? free[0];
}

/** Shape: the drums one by one, or two sounds beside each other. */
export function ShapeBench() {
  const [bench, setBench] = useState<"drum" | "masking" | "layers" | "loop">("drum");
  const piece = useSong((s) => s.piece);
  const mic = useMic();
  const back = () => setBench("drum");
  if (bench === "masking") return <MaskingBench back={back} />;
  if (bench === "layers" && piece !== null && isDrum(piece))
    return <LayersBench key={piece} piece={piece} back={back} />;
  if (bench === "loop" && mic?.piece === "loop")
    return <LoopBench key={mic.id} mic={mic} back={back} toLayers={() => setBench("layers")} />;
  return <DrumBench to={setBench} />;
}

type To = (bench: "masking" | "layers" | "loop") => void;

function ToBench({ label, title, go }: { label: string; title: string; go: () => void }) {
  return (
    <Button size="sm" variant="outline-primary" title={title} onClick={go}>
      {label}
    </Button>
  );
}
const ToMasking = ({ to }: { to: To }) => (
  <ToBench label="Masking …" title="Where one covers another, and room for it" go={() => to("masking")} />
);

/** The chain of a mic or of its drum, or of the whole kit where none is chosen. */
function DrumBench({ to }: { to: To }) {
  const piece = useSong((s) => s.piece);
  const analysed = useSong((s) => s.analysed);
  const mic = useMicHere();
  if (!analysed) return <Nothing>Analyse the kit in Gather first; then the strokes are known.</Nothing>;
  return mic && piece !== null ? <ChainBench mic={mic} piece={piece} to={to} /> : <KitBench to={to} />;
}

/** All drums in a table. */
function KitBench({ to }: { to: To }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const proposals = useProposals("shape");
  const former = Object.keys(facts.tone).length > 0 && Object.keys(facts.shapes).length === 0;
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <p className="lead">
          Choose a drum on the plan to shape it over all its strokes, or take the proposals.
        </p>
        {former && (
          <p className="warn">
            This song was analysed before drums were shaped in flavours: analyse it again in Gather, and EQ,
            compression and rounding are proposed by its strokes.
          </p>
        )}
        <div className="bench-head">
          <FlavourChoice piece={null} />
          <ToMasking to={to} />
        </div>
        <KitTable proposals={proposals} />
      </div>
      <aside className="settings">
        <QuickControls owner={kitOf(song)} />
      </aside>
    </div>
  );
}

interface ChainProps {
  readonly mic: Mic;
  readonly piece: Piece;
  readonly to: To;
}

/** Whose chain is shown, and where else one can go from here. */
function ChainHead({ owner, piece, to }: { owner: Owner } & Omit<ChainProps, "mic">) {
  const song = useSong((s) => s.song!);
  const drum = song.buses.find((b) => b.kind === "drum" && b.piece === piece);
  const tabs = [...micsOf(song, piece), ...layersOf(song, piece), ...(drum ? [drum] : [])];
  return (
    <div className="bench-head">
      <OwnerTabs owners={tabs} chosen={owner.id} />
      {isShell(piece) && <FlavourChoice piece={piece} />}
      {isMic(owner) && <TomsTogether mic={owner} />}
      {isDrum(piece) && (
        <ToBench
          label="Layers …"
          title="One-shots that play at the strokes of this drum"
          go={() => to("layers")}
        />
      )}
      {piece === "loop" && (
        <ToBench
          label="Strokes in it …"
          title="What is struck in it, and its drums as tracks of their own"
          go={() => to("loop")}
        />
      )}
      <ToMasking to={to} />
    </div>
  );
}

/** The chain of a mic or of its drum, and the chosen processor over all strokes. */
function ChainBench({ mic, piece, to }: ChainProps) {
  const bus = useSong((s) => s.song!.buses.find((b) => b.id === s.bus));
  const chosen = useSong((s) => s.processor);
  const proposals = useProposals("shape");
  const owner: Owner = bus ?? mic;
  if (isMic(owner) && owner.silent) return <Nothing>{shortName(owner.file)} is silent.</Nothing>;
  const state = onBench(owner, chosen);
  // Proposals are about the processors that every chain has, not about those that the quick controls drive.
  const own = proposals.filter(
    (p) => p.owner === owner.id && state && !isQuick(owner, state.id) && p.id.startsWith(`${state.type}:`),
  );
  return (
    <>
      <ChainHead owner={owner} piece={piece} to={to} />
      <ChainRow key={owner.id} owner={owner} shown={state?.id ?? null} />
      <div className="bench-columns">
        <div className="evidence">
          {state ? (
            <ProcessorPicture owner={owner} state={state} />
          ) : (
            <Nothing>Nothing is in this chain yet: add a processor above.</Nothing>
          )}
        </div>
        <aside className="settings">
          <QuickControls key={`quick ${owner.id}`} owner={owner} />
          {own.map((p) => (
            <MeasuredCard key={p.id} proposal={p} />
          ))}
          {state && <ChainSettings key={state.id} owner={owner} state={state} />}
        </aside>
      </div>
    </>
  );
}
