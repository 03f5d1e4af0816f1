"use client";
import { Form } from "react-bootstrap";
import { nameOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { shortName } from "./format";
import { useSong } from "./songStore";

/** The file of the song that a space answers with. */
export function ResponseChoice({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const files = useSong((s) => s.song!).mics.filter((m) => m.piece === "response");
  const choose = (id: string | null) => {
    const file = files.find((m) => m.id === id);
    const label = `Response of ${shortName(nameOf(owner))}: ${file ? shortName(file.file) : "none"}`;
    useSong
      .getState()
      .change(label, { op: "setProcessor", owner: owner.id, processor: state.id, response: id });
  };
  if (files.length === 0)
    return (
      <p className="hint">
        It answers with an impulse response: bring a WAV of one in at Gather and label it “Impulse response”.
      </p>
    );
  return (
    <div className="field">
      <label htmlFor={`response-${state.id}`} title="The recording of a space that it answers with.">
        Response
      </label>
      <Form.Select
        size="sm"
        id={`response-${state.id}`}
        value={state.response ?? ""}
        onChange={(e) => choose(e.target.value || null)}
      >
        <option value="">none: silent</option>
        {files.map((m) => (
          <option key={m.id} value={m.id}>
            {shortName(m.file)}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
