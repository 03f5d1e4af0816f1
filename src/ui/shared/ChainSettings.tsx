"use client";
import { processorType } from "../../core/processors";
import type { Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { KeyChoice } from "./KeyChoice";
import { KitDistance } from "./KitDistance";
import { ProcessorPanel } from "./ProcessorPanel";
import { ResponseChoice } from "./ResponseChoice";

/** The settings of a processor in a chain, with what it listens to, what it answers with, and how far the room mics stand. */
export function ChainSettings({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const { listens, responds } = processorType(state.type);
  return (
    <ProcessorPanel owner={owner} state={state}>
      {listens && <KeyChoice owner={owner} state={state} />}
      {responds && <ResponseChoice owner={owner} state={state} />}
      <KitDistance owner={owner} state={state} />
    </ProcessorPanel>
  );
}
