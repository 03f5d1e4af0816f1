"use client";
import { Form } from "react-bootstrap";
import { number } from "../../core/params";
import type { AlignSettings } from "../../core/song/song";
import { TypedField } from "../shared/ParamField";
import { useSong } from "../shared/songStore";

const roomsSpec = number(
  "Rooms behind the overheads",
  "s",
  0,
  0.05,
  0.008,
  "How long after the overheads the room mics are heard.",
);
const usualRooms = 8;

/** What the kit is brought in phase with, and where the rooms are left. */
export function AlignChoices() {
  const align = useSong((s) => s.song!.align);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const set = (change: Partial<AlignSettings>) =>
    useSong
      .getState()
      .change("Anchor of the kit", { op: "setSong", values: { align: { ...align, ...change } } });
  return (
    <div className="align-choices" role="group" aria-label="Anchor">
      <Form.Select
        size="sm"
        aria-label="What the kit is aligned to"
        value={align.anchor}
        onChange={(event) => set({ anchor: event.target.value as AlignSettings["anchor"] })}
      >
        <option value="close">second mics come to the main close mics</option>
        <option value="overheads">the whole kit comes to the overheads</option>
      </Form.Select>
      <Form.Check
        type="switch"
        id="pull-rooms"
        label="rooms at"
        checked={align.rooms !== null}
        onChange={(event) => set({ rooms: event.target.checked ? usualRooms : null })}
      />
      <TypedField
        spec={roomsSpec}
        value={(align.rooms ?? usualRooms) / 1000}
        sampleRate={sampleRate}
        label="Rooms behind the overheads, ms"
        onChange={(seconds) => set({ rooms: Math.round(seconds * 1e5) / 100 })}
      />
      <span className="hint">behind the overheads{align.rooms === null ? " (now: as recorded)" : ""}</span>
    </div>
  );
}
