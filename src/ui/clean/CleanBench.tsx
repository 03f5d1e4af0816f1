"use client";
import { micsOf } from "../../core/song/kitOrder";
import { isShell } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { shortName } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { OwnerTabs } from "../shared/OwnerTabs";
import { ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { useMicHere } from "../shared/useMic";
import { useProposals } from "../shared/useProposals";
import { CymbalPlaces } from "./CymbalPlaces";
import { CleanMic } from "./CleanMic";

/** Clean: gate and dynamic EQ of the chosen mic; proposals for the whole kit. */
export function CleanBench() {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  const analysed = useSong((s) => s.analysed);
  const mic = useMicHere();
  const proposals = useProposals("clean");
  if (!analysed)
    return <Nothing>Analyse the kit in Gather first; then strokes and bleed are told apart.</Nothing>;
  if (!mic || piece === null)
    return (
      <div className="bench-columns">
        <div className="evidence scrolls">
          <p className="lead">
            Choose a drum on the plan to see its strokes against its bleed, or take the proposals.
          </p>
          <ProposalTable title="Clean the whole kit" proposals={proposals} />
          <CymbalPlaces />
        </div>
      </div>
    );
  if (mic.silent || mic.unplayed)
    return (
      <Nothing>
        {shortName(mic.file)} is {mic.silent ? "silent" : "never played"}; mute it in Blend.
      </Nothing>
    );
  if (!isShell(mic.piece) && mic.piece !== "hat" && mic.piece !== "ride")
    return (
      <Nothing>{pieceNames[mic.piece]} hears the whole kit; there is nothing to tell apart here.</Nothing>
    );
  return (
    <>
      <OwnerTabs owners={micsOf(song, piece)} chosen={mic.id} />
      <CleanMic key={mic.id} mic={mic} proposals={proposals.filter((p) => p.owner === mic.id)} />
    </>
  );
}
