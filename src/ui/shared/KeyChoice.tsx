"use client";
import { Form } from "react-bootstrap";
import { nameOf, ownerOf, possibleKeys, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { shortName } from "./format";
import { useSong } from "./songStore";

/** The mic or bus to which a detector listens instead of what comes into it. */
export function KeyChoice({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const song = useSong((s) => s.song!);
  const name = (o: Owner) => shortName(nameOf(o));
  const choose = (key: string | null) => {
    const other = ownerOf(song, key);
    useSong
      .getState()
      .change(other ? `Key of ${name(owner)}: ${name(other)}` : `${name(owner)} without a key`, {
        op: "setProcessor",
        owner: owner.id,
        processor: state.id,
        key,
      });
  };
  return (
    <div className="field">
      <label
        htmlFor={`key-${state.id}`}
        title="Its detector listens to this mic or bus instead of what comes in."
      >
        Key
      </label>
      <Form.Select
        size="sm"
        id={`key-${state.id}`}
        value={state.key ?? ""}
        onChange={(e) => choose(e.target.value || null)}
      >
        <option value="">what comes in</option>
        {possibleKeys(song, owner.id)
          .filter((o) => !("silent" in o && o.silent))
          .map((o) => (
            <option key={o.id} value={o.id}>
              {name(o)}
            </option>
          ))}
      </Form.Select>
    </div>
  );
}
