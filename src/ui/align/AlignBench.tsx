"use client";
import { useEffect } from "react";
import { micsOf } from "../../core/song/kitOrder";
import type { Proposal } from "../../core/song/proposal";
import { mainMic, type Mic, type Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { shortName } from "../shared/format";
import { OwnerTabs } from "../shared/OwnerTabs";
import { Nothing } from "../shared/Nothing";
import { ProposalCard, TakeAll } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useProposals } from "../shared/useProposals";
import { LayerPhase } from "../shape/layers/LayerPhase";
import { layersOf } from "../shape/layers/LayersBench";
import { AlignChoices } from "./AlignChoices";
import { AlignTable } from "./AlignTable";
import { MonoCheck } from "./MonoCheck";
import { PairBench } from "./pair/PairBench";

/** The whole kit in a table. */
function KitBench({ proposals }: { proposals: readonly Proposal[] }) {
  const rotations = proposals.filter((p) => p.id.startsWith("rotation:"));
  return (
    <div className="evidence scrolls align-kit">
      <header>
        <AlignChoices />
        <TakeAll title="Whole kit" proposals={proposals} />
      </header>
      <AlignTable proposals={proposals} />
      <MonoCheck />
      {rotations.map((p) => (
        <ProposalCard key={p.id} proposal={p} />
      ))}
    </div>
  );
}

/** Align: second mics of a drum against its main mic; the whole kit as a table. */
export function AlignBench() {
  const piece = useSong((s) => s.piece);
  const analysed = useSong((s) => s.analysed);
  const proposals = useProposals("align");
  if (!analysed) return <Nothing>Analyse the kit in Gather first; then the delays are known.</Nothing>;
  return piece === null ? (
    <KitBench proposals={proposals} />
  ) : (
    <DrumBench piece={piece} proposals={proposals} />
  );
}

/** The second mics and layers of a drum, one of them against its main mic. */
function DrumBench({ piece, proposals }: { piece: Piece; proposals: readonly Proposal[] }) {
  const song = useSong((s) => s.song!);
  const micId = useSong((s) => s.mic);
  const mics = micsOf(song, piece);
  const main = mainMic(mics, piece);
  const chosen = mics.find((m) => m.id === micId);
  const seconds = mics.filter((m) => m.id !== main?.id && !m.silent);
  const second: Mic | undefined = chosen && chosen.id !== main?.id ? chosen : seconds[0];
  const layers = layersOf(song, piece);
  const layer = layers.find((m) => m.id === micId);
  // Keys act on the chosen mic: that is the one which the bench moves.
  useEffect(() => {
    if (main && second && !layer && second.id !== micId) useSong.getState().chooseMic(second.id);
  }, [main, second, layer, micId]);
  const tabs = [...seconds, ...layers];
  const shown = layer ?? (second ? undefined : layers[0]);
  if (main && shown)
    return (
      <>
        <OwnerTabs owners={tabs} chosen={shown.id} />
        <div className="evidence">
          <LayerPhase song={song} main={main} mic={shown} />
        </div>
      </>
    );
  if (!main || !second)
    return (
      <Nothing>
        {pieceNames[piece]} has one mic, so there is nothing to align here. Choose the kick or the snare, or
        the whole kit.
      </Nothing>
    );
  return (
    <>
      <OwnerTabs owners={tabs} chosen={second.id} />
      <PairBench
        key={second.id}
        main={main}
        second={second}
        proposals={proposals.filter((p) => p.owner === second.id)}
        title={`${shortName(second.file)} against ${shortName(main.file)}`}
      />
    </>
  );
}
