"use client";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { isMic, nameOf, possibleTargets, type Owner } from "../../core/song/graph";
import { limits } from "../../core/song/limits";
import { parallelCopy } from "../../core/song/parallelCopy";
import { withoutBus } from "../../core/song/routes";
import type { Bus } from "../../core/song/song";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { BusFields } from "./BusFields";
import { isBeside } from "./mixOrder";
import { NullTest } from "./NullTest";
import { PathEffect } from "./PathEffect";
import { ProposedCopy } from "./ProposedCopy";
import { routeTo } from "./routing";

/** Where it goes, or why that is not chosen. */
function GoesTo({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  if (isBeside(owner))
    return (
      <p className="hint">
        Music beside the kit: its chain and fader are for judging, and no render of the kit holds it.
      </p>
    );
  if (owner.output === null) return <p className="hint">Everything arrives here.</p>;
  return (
    <div className="field">
      <label htmlFor="goes-to">Goes to</label>
      <Form.Select
        size="sm"
        id="goes-to"
        value={owner.output}
        onChange={(e) => routeTo(owner, e.target.value, e.target.selectedOptions[0]!.text)}
      >
        {possibleTargets(song, owner.id).map((b) => (
          <option key={b.id} value={b.id}>
            {b.name}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}

const copies = [
  ["input", "Copy before the chain", "A bus of its own, fed by this alone before its chain"],
  ["chain", "Copy behind it", "A bus of its own, fed by this alone behind its chain"],
] as const;

/** Copies beside it that are fed by it alone. */
function Copies({ owner, full }: { owner: Owner; full: boolean }) {
  const song = useSong((s) => s.song!);
  const { change, chooseBus } = useSong.getState();
  const [trouble, setTrouble] = useState<string | null>(null);
  const copy = (from: "input" | "chain") => {
    try {
      const { id, operation } = parallelCopy(song, owner, from);
      change(`Parallel copy of ${ownerName(owner)}`, operation);
      chooseBus(id);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <>
      <div className="buttons">
        {copies.map(([from, label, title]) => (
          <Button
            key={from}
            size="sm"
            variant="outline-primary"
            disabled={full}
            title={title}
            onClick={() => copy(from)}
          >
            {label}
          </Button>
        ))}
      </div>
      <ProposedCopy owner={owner} disabled={full} made={chooseBus} />
      {trouble && <p className="warn">{trouble}</p>}
    </>
  );
}

/** What a bus brings, and its end. */
function BusActs({ bus }: { bus: Bus }) {
  const song = useSong((s) => s.song!);
  const remove = () => {
    const { change, chooseBus } = useSong.getState();
    change(`Take ${nameOf(bus)} out`, { op: "several", operations: withoutBus(song, bus.id) });
    chooseBus(null);
  };
  return (
    <>
      {(bus.kind === "parallel" || bus.kind === "room") && <PathEffect key={`effect ${bus.id}`} bus={bus} />}
      <div className="buttons">
        <NullTest key={bus.id} bus={bus} />
        <Button
          size="sm"
          variant="outline-secondary"
          title="What goes here then goes on to where this goes"
          onClick={remove}
        >
          Take the bus out
        </Button>
      </div>
    </>
  );
}

/** The chosen mic or bus as a node of the graph: where it goes, what it is called, a parallel copy, its end. */
export function OwnerPanel({ owner }: { owner: Owner }) {
  const full = useSong((s) => s.song!.buses.length >= limits.buses);
  return (
    <section className="panel" aria-label={`Way of ${ownerName(owner)}`}>
      <header>
        <h3>{ownerName(owner)}</h3>
      </header>
      <GoesTo owner={owner} />
      {!isMic(owner) && <BusFields bus={owner} />}
      {owner.output !== null && (
        <>
          <Copies owner={owner} full={full} />
          {!isMic(owner) && <BusActs bus={owner} />}
        </>
      )}
      {full && <p className="hint">A song takes {limits.buses} buses.</p>}
    </section>
  );
}
