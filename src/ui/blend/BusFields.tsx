"use client";
import { Form } from "react-bootstrap";
import { ownersOf, type Owner } from "../../core/song/graph";
import { widthParam } from "../../core/song/limits";
import { number } from "../../core/params";
import type { BusValues, Operation } from "../../core/song/operations";
import { pieces, type Bus, type Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { ParamField, TypedField } from "../shared/ParamField";
import { useSong } from "../shared/songStore";

const panParam = number("Balance", "%", -100, 100, 0, "Turns the far side down; the near one stays.");
const byParam = number("All sends to it by", "dB", -24, 24, 0, "Moves the level of every send to this bus.");

type Set = (values: BusValues, label: string, done?: boolean) => void;

function NameField({ bus, set }: { bus: Bus; set: Set }) {
  return (
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
  );
}

function DrumField({ bus, set }: { bus: Bus; set: Set }) {
  return (
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
  );
}

/** Moves everything that is sent to a bus by as much. */
function SendsBy({ bus }: { bus: Bus }) {
  const song = useSong((s) => s.song!);
  const sent = ownersOf(song).filter((o) => o.sends.some((s) => s.bus === bus.id));
  if (sent.length === 0) return null;
  const moved = ({ sends }: Owner, by: number) =>
    sends.map((s) => (s.bus === bus.id ? { ...s, level: Math.max(-100, Math.min(24, s.level + by)) } : s));
  const move = (by: number) =>
    useSong.getState().change(`Sends to ${bus.name} by ${by} dB`, {
      op: "several",
      operations: sent.map((o): Operation => ({ op: "setSends", owner: o.id, sends: moved(o, by) })),
    });
  return (
    <div className="field">
      <span className="label">{byParam.label}</span>
      <TypedField
        key={JSON.stringify(sent.map((o) => o.sends))}
        spec={byParam}
        value={0}
        sampleRate={song.sampleRate}
        label={`Move all sends to ${bus.name} by, dB`}
        onChange={(by) => by !== 0 && move(by)}
      />
    </div>
  );
}

/** Name, colour, picture and end of a bus. */
export function BusFields({ bus }: { bus: Bus }) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const { change, preview } = useSong.getState();
  const set: Set = (values, label, done = true) => {
    const operation: Operation = { op: "setBus", bus: bus.id, values };
    if (done) change(`${label} of ${bus.name}`, operation);
    else preview(operation);
  };
  return (
    <>
      <NameField bus={bus} set={set} />
      <DrumField bus={bus} set={set} />
      <ParamField
        spec={widthParam}
        value={bus.width}
        sampleRate={sampleRate}
        onChange={(width, done) => set({ width: width as number }, "Width", done)}
      />
      <ParamField
        spec={panParam}
        value={bus.pan}
        sampleRate={sampleRate}
        onChange={(pan, done) => set({ pan: pan as number }, "Balance", done)}
      />
      <SendsBy bus={bus} />
    </>
  );
}
