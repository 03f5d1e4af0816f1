"use client";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { Form } from "react-bootstrap";
import type { ParamValue } from "../../core/params";
import { processorType } from "../../core/processors";
import { canSwitch } from "../../core/song/create";
import type { Bus, Mic, ProcessorState } from "../../core/song/song";
import { ParamField } from "./ParamField";
import { playback } from "./playback";
import { useSong } from "./songStore";

type Owner = Mic | Bus;
export const ownerName = (owner: Owner): string =>
  "file" in owner ? owner.file.replace(/\.[A-Za-z0-9]{2,4}$/, "") : owner.name;

/** Sets parameters of a processor: previewed while a gesture goes on, stored when it is done. */
export function useParams(owner: Owner, state: ProcessorState) {
  const { change, preview } = useSong.getState();
  const { label } = processorType(state.type);
  return (params: Record<string, ParamValue>, done: boolean, on?: boolean): void => {
    const operation = {
      op: "setProcessor" as const,
      owner: owner.id,
      processor: state.id,
      params,
      ...(on === undefined ? {} : { on }),
    };
    if (done) change(`${label} of ${ownerName(owner)}`, operation);
    else preview(operation);
  };
}

/** Gain reduction of a processor while it plays, drawn without React. */
function ReductionMeter({ id }: { id: string }) {
  const bar = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      playback.subscribe((s) => {
        const db = s.processors.find((p) => p.id === id)?.reductionDb ?? 0;
        if (bar.current) bar.current.style.width = `${Math.min(100, (100 * Math.max(0, db)) / 24)}%`;
        if (text.current) text.current.textContent = `${db.toFixed(1).replace("-", "−")} dB`;
      }),
    [id],
  );
  return (
    <div className="reduction" aria-hidden>
      <span className="track">
        <span ref={bar} />
      </span>
      <span ref={text}>0.0 dB</span>
    </div>
  );
}

interface Props {
  readonly owner: Owner;
  readonly state: ProcessorState;
  /** Parameters shown first; the rest is one click deeper. */
  readonly first: readonly string[];
  readonly meter?: boolean;
  readonly children?: ReactNode;
}

/** Switch and settings of one processor, made from its declaration. */
export function ProcessorPanel({ owner, state, first, meter = false, children }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const chosen = useSong((s) => s.processor === state.id);
  const [more, setMore] = useState(false);
  const type = processorType(state.type);
  const set = useParams(owner, state);
  const { chooseProcessor } = useSong.getState();
  const rest = Object.keys(type.params).filter((name) => !first.includes(name));
  const field = (name: string) => (
    <ParamField
      key={name}
      spec={type.params[name]!}
      value={state.params[name]!}
      sampleRate={sampleRate}
      onChange={(value, done) => set({ [name]: value }, done)}
    />
  );
  return (
    <section
      className={`panel ${chosen ? "chosen" : ""} ${state.on ? "" : "off"}`}
      aria-label={`${type.label} of ${ownerName(owner)}`}
      onFocusCapture={() => chooseProcessor(state.id)}
      onPointerDownCapture={() => chooseProcessor(state.id)}
    >
      <header>
        <h3 title={type.help}>{type.label}</h3>
        {canSwitch(state.type) && (
          <Form.Check
            type="switch"
            id={`on-${state.id}`}
            label={state.on ? "on" : "off"}
            checked={state.on}
            onChange={(event) => set({}, true, event.target.checked)}
          />
        )}
        {meter && <ReductionMeter id={state.id} />}
      </header>
      {children}
      {first.map(field)}
      {rest.length > 0 && (
        <button type="button" className="more" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : `${rest.length} more settings`}
        </button>
      )}
      {more && rest.map(field)}
    </section>
  );
}
