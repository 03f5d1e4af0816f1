"use client";
import { Button } from "react-bootstrap";
import { processorType } from "../../core/processors";
import type { Owner } from "../../core/song/graph";
import { putProcessor } from "../../core/song/putProcessor";
import { ownerName } from "./ProcessorPanel";
import { useSong } from "./songStore";

/** Where a step's processor was taken out of a chain: how to put one in again. */
export function PutIn({ owner, type }: { owner: Owner; type: string }) {
  const { label, help } = processorType(type);
  return (
    <section className="panel" aria-label={`${label} of ${ownerName(owner)}`}>
      <p className="hint">
        The chain of {ownerName(owner)} has no {label}. {help}
      </p>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() =>
          useSong.getState().change(`${label} into ${ownerName(owner)}`, putProcessor(owner, type, {}, true))
        }
      >
        Put one in
      </Button>
    </section>
  );
}
