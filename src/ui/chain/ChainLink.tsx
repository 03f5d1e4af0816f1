"use client";
import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import type { KeyboardEvent } from "react";
import { GripVertical, X } from "react-bootstrap-icons";
import { processorType } from "../../core/processors";
import type { ProcessorState } from "../../core/song/song";

interface Props {
  readonly state: ProcessorState;
  /** Its name in this chain: the second of a kind has a number. */
  readonly name: string;
  readonly chosen: boolean;
  readonly choose: () => void;
  readonly turn: (on: boolean) => void;
  readonly remove: () => void;
  readonly onKey: (event: KeyboardEvent) => void;
  readonly figure: (element: HTMLElement | null) => void;
  /** To what its detector listens, in words; null: to itself. */
  readonly key_: string | null;
}

/** One processor in the row: what it is, whether it is on, how much it takes or gives. */
export function ChainLink({ state, name, chosen, choose, turn, remove, onKey, figure, key_ }: Props) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: state.id,
  });
  const type = processorType(state.type);
  return (
    <li
      ref={setNodeRef}
      className={`chain-link ${chosen ? "chosen" : ""} ${state.on ? "" : "off"} ${isDragging ? "dragged" : ""}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <span
        className="grip"
        title="Drag to another place"
        {...attributes}
        {...listeners}
        tabIndex={-1}
        role="presentation"
      >
        <GripVertical aria-hidden />
      </span>
      <button
        type="button"
        className="link-name"
        aria-pressed={chosen}
        title={`${type.help} Alt with ← or →: to another place. Delete: out. Ctrl C: copy, Ctrl V: paste behind it.`}
        onClick={choose}
        onKeyDown={onKey}
      >
        {name}
        {key_ && <small title="Its detector listens to this"> by {key_}</small>}
      </button>
      <input
        type="checkbox"
        className="form-check-input"
        aria-label={`${name} on`}
        title={state.on ? "On" : "Off"}
        checked={state.on}
        onChange={(e) => turn(e.target.checked)}
      />
      <button
        type="button"
        className="take-out"
        aria-label={`Take ${name} out`}
        title="Take it out"
        onClick={remove}
      >
        <X aria-hidden />
      </button>
      <span className="figure" ref={figure} title="What it changes while it plays: level / peak, dB">
        {state.on ? "–" : "off"}
      </span>
    </li>
  );
}
