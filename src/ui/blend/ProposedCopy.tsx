"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { copyChain, copyKinds, copyLevel, crushedBy, type CopyKind } from "../../core/blend/copyChains";
import { partsOf } from "../../core/song/chain";
import { panGains } from "../../core/measure/panGains";
import { gainToDb } from "../../core/signal/level";
import { newProcessor } from "../../core/song/create";
import { isMic, type Owner } from "../../core/song/graph";
import { parallelCopy } from "../../core/song/parallelCopy";
import type { ProcessorState } from "../../core/song/song";
import { inputBehind } from "../shared/chainInput";
import { askEvidence } from "../shared/evidenceClient";
import { medianOr } from "../shared/medianOr";
import { useTone } from "../shared/owners";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";

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

/** What the pan makes of a mic on its louder side: by so much less it comes into a bus. */
function placed(owner: Owner): ProcessorState[] {
  if (!isMic(owner)) return [];
  const gain = gainToDb(Math.max(...panGains(owner, 0, 0)));
  return gain === 0 ? [] : [newProcessor(owner.id, "trim", true, { gain })];
}

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

  /** The chain with what of it is fitted. */
  const fit = async (kind: CopyKind): Promise<ProcessorState[]> => {
    const { chain, fitted } = copyChain(kind, tone);
    const { last } = partsOf(owner.chain);
    const own = owner.chain.slice(0, owner.chain.length - last.length);
    const { input } = inputBehind(song, id, owner, [
      ...own,
      ...placed(owner),
      ...chain.filter((p) => p !== fitted),
    ]);
    const ask = { input, mains, ring: null };
    const set = (params: ProcessorState["params"]) => ({
      ...fitted,
      params: { ...fitted.params, ...params },
    });
    let done = fitted;
    if (kind === "crushed") {
      const { threshold } = await askEvidence("fit", {
        input,
        processor: fitted,
        level: "threshold",
        mains,
        wishedDb: crushedBy,
      });
      const { loudnessBefore, loudnessAfter } = await askEvidence("effect", {
        ...ask,
        processor: set({ threshold }),
      });
      const makeup =
        Math.round(10 * Math.min(30, Math.max(0, loudnessBefore.whole - loudnessAfter.whole))) / 10;
      done = set({ threshold, makeup });
    } else {
      const { peakBefore, peakAfter } = await askEvidence("effect", { ...ask, processor: fitted });
      const higher = medianOr(
        peakAfter.map((p, i) => p - peakBefore[i]!),
        0,
      );
      done = set({ output: Math.round(10 * Math.min(24, Math.max(-24, -higher))) / 10 });
    }
    return chain.map((p) => (p === fitted ? done : p));
  };
  const make = async (kind: CopyKind): Promise<void> => {
    setFitting(kind);
    const { change, tell } = useSong.getState();
    try {
      const chain = await fit(kind);
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
