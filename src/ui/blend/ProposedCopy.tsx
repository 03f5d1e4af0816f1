"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { copyKinds, copyLevel, crushedBy, type CopyKind } from "../../core/blend/copyChains";
import { newProcessor } from "../../core/song/create";
import type { Owner } from "../../core/song/graph";
import { parallelCopy } from "../../core/song/parallelCopy";
import { useTone } from "../shared/owners";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";
import { fitCopy } from "./fitCopy";

const kinds: Readonly<Record<CopyKind, { label: string; name: string; title: string }>> = {
  crushed: {
    label: "Crushed middle",
    name: "crushed",
    title: `A copy without lows and highs, turned down by ${crushedBy} dB at half of the strokes and as loud as before`,
  },
  attack: {
    label: "Attacks alone",
    name: "attacks",
    title: "A copy of mids and highs of which only the attacks are left, as high as they come in",
  },
};

/** Parallel copies behind the chain with a chain of their own, fitted to the strokes that come into it: one action, one step. */
export function ProposedCopy({
  owner,
  disabled,
  made,
}: {
  owner: Owner;
  disabled: boolean;
  made: (id: string) => void;
}) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const analysed = useSong((s) => s.analysed);
  const tone = useTone(owner);
  const [fitting, setFitting] = useState<CopyKind | null>(null);
  if (!analysed) return null;
  const { mains } = strokesIn(song, owner);

  const make = async (kind: CopyKind): Promise<void> => {
    setFitting(kind);
    const { change, tell } = useSong.getState();
    try {
      const chain = await fitCopy(kind, song, id, owner, tone);
      const { id: bus, operation } = parallelCopy(useSong.getState().song!, owner, "chain");
      const name = `${ownerName(owner)} ${kinds[kind].name}`.slice(0, 60);
      change(`${kinds[kind].label} of ${ownerName(owner)}`, {
        op: "several",
        operations: [
          operation,
          { op: "setChain", owner: bus, chain: chain.map((p) => newProcessor(bus, p.type, true, p.params)) },
          { op: "setBus", bus, values: { name, level: copyLevel } },
        ],
      });
      made(bus);
    } catch (error) {
      tell(
        `The copy could not be made: ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`,
      );
    } finally {
      setFitting(null);
    }
  };
  return (
    <div className="buttons">
      {copyKinds.map((kind) => (
        <Button
          key={kind}
          size="sm"
          variant="outline-primary"
          disabled={disabled || fitting !== null || mains.length === 0}
          title={kinds[kind].title}
          onClick={() => void make(kind)}
        >
          {fitting === kind ? "fitting …" : kinds[kind].label}
        </Button>
      ))}
    </div>
  );
}
