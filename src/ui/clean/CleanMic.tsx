"use client";
import { useMemo, useState } from "react";
import type { JudgedCleaning } from "../../contract";
import { othersHeard } from "../../core/clean/treatments";
import type { Proposal } from "../../core/song/proposal";
import type { DynamicBand } from "../../core/processors/dynamicEq/dynamicEq";
import { firstOf, processorOf } from "../../core/song/create";
import type { Mic } from "../../core/song/song";
import { shortName, signed } from "../shared/format";
import { KeyChoice } from "../shared/KeyChoice";
import { PutIn } from "../shared/PutIn";
import { ProcessorPanel } from "../shared/ProcessorPanel";
import { ProposalCard } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";
import { BleedAlong } from "./BleedAlong";
import { CloseCalls } from "./CloseCalls";
import { DynamicEqPanel } from "./DynamicEqPanel";
import { LevelPicture } from "./LevelPicture";
import { shiftLevels, verdict } from "./levels";
import { OpenTimes } from "./OpenTimes";
import { PassPicture } from "./PassPicture";
import type { CleaningChoice } from "../../core/facts/treatment";
import { TonePicture } from "./TonePicture";
import { Treatments } from "./Treatments";
import { useCleaning } from "./useCleaning";

const noLevels = { hits: [], ghosts: [], bleed: [] };

const db = (x: number) => `${signed(x, 1)} dB`;

/** Why no way to clean a mic is proposed, by what cancelling did to it. */
function NothingProposed({ choice: { verdict } }: { choice: CleaningChoice }) {
  const { bleedDb, strokesDb, ghosts, ghostsKept } = verdict;
  return (
    <p className="hint" role="status">
      Nothing is proposed: on some moments of the song cancelling changed the bleed by {db(bleedDb)} and the
      strokes by {db(strokesDb)}
      {ghosts > 0 ? `, and kept ${ghostsKept} of ${ghosts} ghost notes` : ""}.
    </p>
  );
}

/** The gate as it is set, how long it is open and what is close; or how one comes in. */
function GateSettings({ mic, trim }: { mic: Mic; trim: number }) {
  const gate = firstOf(mic, "gate");
  if (!gate) return <PutIn owner={mic} type="gate" />;
  return (
    <>
      <ProcessorPanel owner={mic} state={gate}>
        <KeyChoice owner={mic} state={gate} />
        <OpenTimes mic={mic} gate={gate} />
        {gate.on && gate.params["hear"] === "detector" && (
          <p className="warn">What is heard is its detector, also in what is delivered.</p>
        )}
      </ProcessorPanel>
      <CloseCalls mic={mic} threshold={gate.params["threshold"] as number} trim={trim} />
    </>
  );
}

interface WaysProps {
  readonly mic: Mic;
  readonly proposals: readonly Proposal[];
  readonly judged: JudgedCleaning | null;
  readonly busy: boolean;
  readonly error: string | null;
}
/** What is proposed, and how the ways to clean it were judged. */
function Ways({ mic, proposals, judged, busy, error }: WaysProps) {
  const song = useSong((s) => s.song!);
  const choice = useSong((s) => s.facts.cleaning[mic.id]);
  return (
    <>
      {proposals.map((p) => (
        <ProposalCard key={p.id} proposal={p} />
      ))}
      {choice?.way === "none" && <NothingProposed choice={choice} />}
      {error && <p className="warn">{error}</p>}
      {!judged && busy && <p className="hint">Measuring ways to clean it …</p>}
      <Treatments mic={mic} judged={judged} />
      {othersHeard(song, mic) > 0 ? (
        <ProcessorPanel owner={mic} state={processorOf(mic, "cancel")} />
      ) : (
        <p className="hint">To cancel bleed with the other mics, analyse the kit again in Gather.</p>
      )}
    </>
  );
}

/** One mic: strokes against bleed with the gate in it, the average stroke through its cleaning, spectra with the dynamic EQ. */
export function CleanMic({ mic, proposals }: { mic: Mic; proposals: readonly Proposal[] }) {
  const facts = useSong((s) => s.facts);
  const [gate, dynamicEq] = [firstOf(mic, "gate"), firstOf(mic, "dynamicEq")];
  const cancel = processorOf(mic, "cancel");
  const trim = processorOf(mic, "trim").params["gain"] as number;
  const levels = useMemo(() => shiftLevels(facts.levels[mic.id] ?? noLevels, trim), [facts, mic.id, trim]);
  const threshold = (gate?.params["threshold"] ?? -100) as number;
  const opens = gate?.params["opens"];
  const [band, setBand] = useState<DynamicBand>("high");
  const { value: judged, busy, error } = useCleaning(mic);
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {shortName(mic.file)}: strokes and bleed{" "}
          <small data-testid="verdict">
            {gate && verdict(levels, threshold)}
            {opens === "hits" && " by level; strokes open it"}
            {cancel.on && " (before Cancel)"}
            {opens === "both" && "; strokes open it too"}
          </small>
        </h2>
        <div className="row-plots half">
          {gate && <LevelPicture mic={mic} gate={gate} levels={levels} />}
          {gate && dynamicEq && <PassPicture mic={mic} gate={gate} dynamicEq={dynamicEq} judged={judged} />}
        </div>
        {dynamicEq && <TonePicture mic={mic} dynamicEq={dynamicEq} band={band} onBand={setBand} />}
      </div>
      <aside className="settings">
        <Ways mic={mic} proposals={proposals} judged={judged} busy={busy} error={error} />
        <GateSettings mic={mic} trim={trim} />
        {dynamicEq ? (
          <DynamicEqPanel mic={mic} state={dynamicEq} band={band} onBand={setBand} />
        ) : (
          <PutIn owner={mic} type="dynamicEq" />
        )}
        <BleedAlong mic={mic} value={judged?.along ?? null} />
      </aside>
    </div>
  );
}
