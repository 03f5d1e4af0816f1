"use client";
import { Form } from "react-bootstrap";
import type { Mic } from "../../core/song/song";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";

/** The mic to which the gate and the dynamic EQ of a mic listen. */
export function KeyChoice({ mic }: { mic: Mic }) {
  const mics = useSong((s) => s.song!.mics);
  const choose = (key: string | null) => {
    const other = mics.find((m) => m.id === key);
    useSong.getState().change(
      other ? `Key of ${shortName(mic.file)}: ${shortName(other.file)}` : `${shortName(mic.file)} without a key`,
      { op: "setMic", mic: mic.id, values: { key } },
    ); // prettier-ignore
  };
  return (
    <div className="field">
      <label htmlFor={`key-${mic.id}`} title="Its gate and dynamic EQ listen to this mic instead of itself.">
        Key
      </label>
      <Form.Select
        size="sm"
        id={`key-${mic.id}`}
        value={mic.key ?? ""}
        onChange={(e) => choose(e.target.value || null)}
      >
        <option value="">this mic</option>
        {mics
          .filter((m) => m.id !== mic.id && !m.silent)
          .map((m) => (
            <option key={m.id} value={m.id}>
              {shortName(m.file)}
            </option>
          ))}
      </Form.Select>
    </div>
  );
}
