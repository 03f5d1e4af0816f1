"use client";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { isMic, nameOf, ownersOf, possibleTargets, type Owner } from "../../core/song/graph";
import { limits, widthParam } from "../../core/song/limits";
import { number } from "../../core/params";
import type { BusValues, Operation } from "../../core/song/operations";
import { parallelCopy } from "../../core/song/parallelCopy";
import { withoutBus } from "../../core/song/routes";
import { pieces, type Bus, type Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { ParamField, TypedField } from "../shared/ParamField";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { isBeside } from "./mixOrder";
import { PathEffect } from "./PathEffect";
import { NullTest } from "./NullTest";
import { ProposedCopy } from "./ProposedCopy";
import { routeTo } from "./routing";

const panParam = number("Balance", "%", -100, 100, 0, "Turns the far side down; the near one stays.");
const byParam = number("All sends to it by", "dB", -24, 24, 0, "Moves the level of every send to this bus.");

/** Name, colour, picture and end of a bus. */
function BusFields({ bus }: { bus: Bus }) {
  const song = useSong((s) => s.song!);
  const { change, preview } = useSong.getState();
  const set = (values: BusValues, label: string, done = true) => {
    const operation: Operation = { op: "setBus", bus: bus.id, values };
    if (done) change(`${label} of ${bus.name}`, operation);
    else preview(operation);
  };
  const sent = ownersOf(song).filter((o) => o.sends.some((s) => s.bus === bus.id));
  const moveSends = (by: number) => {
    const operations = sent.map((o): Operation => ({
      op: "setSends",
      owner: o.id,
      sends: o.sends.map((s) =>
        s.bus === bus.id ? { ...s, level: Math.max(-100, Math.min(24, s.level + by)) } : s,
      ),
    }));
    change(`Sends to ${bus.name} by ${by} dB`, { op: "several", operations });
  };
  return (
    <>
      <div className="field">
        <label htmlFor="bus-name">Name</label>
        <Form.Control
          size="sm"
          id="bus-name"
          key={bus.name}
          defaultValue={bus.name}
          maxLength={60}
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name !== "" && name !== bus.name) set({ name }, "Name");
          }}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
        />
      </div>
      <div className="field">
        <label htmlFor="bus-piece" title="Whose colour it has, and whose strokes open its gates">
          Drum
        </label>
        <Form.Select
          size="sm"
          id="bus-piece"
          value={bus.piece ?? ""}
          onChange={(e) => set({ piece: (e.target.value || null) as Piece | null }, "Drum")}
        >
          <option value="">none</option>
          {pieces.map((p) => (
            <option key={p} value={p}>
              {pieceNames[p]}
            </option>
          ))}
        </Form.Select>
      </div>
      <ParamField
        spec={widthParam}
        value={bus.width}
        sampleRate={song.sampleRate}
        onChange={(width, done) => set({ width: width as number }, "Width", done)}
      />
      <ParamField
        spec={panParam}
        value={bus.pan}
        sampleRate={song.sampleRate}
        onChange={(pan, done) => set({ pan: pan as number }, "Balance", done)}
      />
      {sent.length > 0 && (
        <div className="field">
          <span className="label">{byParam.label}</span>
          <TypedField
            key={JSON.stringify(sent.map((o) => o.sends))}
            spec={byParam}
            value={0}
            sampleRate={song.sampleRate}
            label={`Move all sends to ${bus.name} by, dB`}
            onChange={(by) => by !== 0 && moveSends(by)}
          />
        </div>
      )}
    </>
  );
}

/** The chosen mic or bus as a node of the graph: where it goes, what it is called, a parallel copy, its end. */
export function OwnerPanel({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  const { change, chooseBus } = useSong.getState();
  const [trouble, setTrouble] = useState<string | null>(null);
  const targets = possibleTargets(song, owner.id);
  const copy = (from: "input" | "chain") => {
    try {
      const { id, operation } = parallelCopy(song, owner, from);
      change(`Parallel copy of ${ownerName(owner)}`, operation);
      chooseBus(id);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const remove = () => {
    change(`Take ${nameOf(owner)} out`, { op: "several", operations: withoutBus(song, owner.id) });
    chooseBus(null);
  };
  const full = song.buses.length >= limits.buses;
  return (
    <section className="panel" aria-label={`Way of ${ownerName(owner)}`}>
      <header>
        <h3>{ownerName(owner)}</h3>
      </header>
      {isBeside(owner) ? (
        <p className="hint">
          Music beside the kit: its chain and fader are for judging, and no render of the kit holds it.
        </p>
      ) : owner.output !== null ? (
        <div className="field">
          <label htmlFor="goes-to">Goes to</label>
          <Form.Select
            size="sm"
            id="goes-to"
            value={owner.output}
            onChange={(e) => routeTo(owner, e.target.value, e.target.selectedOptions[0]!.text)}
          >
            {targets.map((b) => (
              <option key={b.id} value={b.id}>
                {b.name}
              </option>
            ))}
          </Form.Select>
        </div>
      ) : (
        <p className="hint">Everything arrives here.</p>
      )}
      {!isMic(owner) && <BusFields bus={owner} />}
      {owner.output !== null && (
        <>
          <div className="buttons">
            <Button
              size="sm"
              variant="outline-primary"
              disabled={full}
              title="A bus of its own, fed by this alone before its chain"
              onClick={() => copy("input")}
            >
              Copy before the chain
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              disabled={full}
              title="A bus of its own, fed by this alone behind its chain"
              onClick={() => copy("chain")}
            >
              Copy behind it
            </Button>
          </div>
          <ProposedCopy owner={owner} disabled={full} made={chooseBus} />
          {!isMic(owner) && (owner.kind === "parallel" || owner.kind === "room") && (
            <PathEffect key={`effect ${owner.id}`} bus={owner} />
          )}
          {!isMic(owner) && (
            <div className="buttons">
              <NullTest key={owner.id} bus={owner} />
              <Button
                size="sm"
                variant="outline-secondary"
                title="What goes here then goes on to where this goes"
                onClick={remove}
              >
                Take the bus out
              </Button>
            </div>
          )}
        </>
      )}
      {full && <p className="hint">A song takes {limits.buses} buses.</p>}
      {trouble && <p className="warn">{trouble}</p>}
    </section>
  );
}
