"use client";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { Form } from "react-bootstrap";
import type { ParamValue } from "../../core/params";
import { processorType } from "../../core/processors";
import { canSwitch } from "../../core/song/create";
import { setParams, valuesIn } from "../../core/song/setParams";
import type { Bus, Mic, ProcessorState } from "../../core/song/song";
import { setShare, setText } from "./draw";
import { ParamField } from "./ParamField";
import { playback } from "./playback";
import { SectionPicker } from "./SectionPicker";
import { useSection } from "./sectionChoice";
import { useSong } from "./songStore";
import { withToms } from "./withToms";

type Owner = Mic | Bus;
export const ownerName = (owner: Owner): string =>
  "file" in owner ? owner.file.replace(/\.[A-Za-z0-9]{2,4}$/, "") : owner.name;

/**
 * Sets parameters of a processor, in the chosen section or the whole song: previewed while a gesture goes on, stored
 * when it is done. `everywhere`: for what is the same in the whole song, such as where a mic stands.
 */
export function useParams(owner: Owner, state: ProcessorState, everywhere = false) {
  const chosen = useSection();
  const section = everywhere ? null : chosen;
  const { change, preview } = useSong.getState();
  const { label } = processorType(state.type);
  return (params: Record<string, ParamValue>, done: boolean, on?: boolean): void => {
    const operation = withToms(setParams(owner, state, params, section, on));
    if (done) change(`${label} of ${ownerName(owner)}`, operation);
    else preview(operation);
  };
}

/** Takes one parameter of a section back to the song's value. */
function forget(owner: Owner, state: ProcessorState, section: string, name: string): void {
  const { [name]: _, ...rest } = state.bySection?.[section] ?? {};
  const { [section]: __, ...others } = state.bySection ?? {};
  const bySection = Object.keys(rest).length > 0 ? { ...others, [section]: rest } : others;
  useSong.getState().change(`${processorType(state.type).label} of ${ownerName(owner)} as in the song`, {
    op: "setProcessor",
    owner: owner.id,
    processor: state.id,
    bySection,
  });
}

/** Gain reduction of a processor while it plays, drawn without React. */
function ReductionMeter({ id }: { id: string }) {
  const bar = useRef<HTMLSpanElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      playback.subscribe((s) => {
        const db = playback.reductionOf(s, id);
        setShare(bar.current, db / 24);
        setText(text.current, `${db.toFixed(1).replace("-", "−")} dB`);
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
  /** Parameters shown first, where they are not those of the declaration. */
  readonly main?: readonly string[];
  /** All that is shown at all, where that is not everything. */
  readonly only?: readonly string[];
  readonly children?: ReactNode;
}

/** One parameter, in the song or in the chosen section, where it may have a value of its own. */
function Field({ owner, state, name }: Pick<Props, "owner" | "state"> & { name: string }) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const set = useParams(owner, state);
  const section = useSection();
  const own = section !== null && state.bySection?.[section]?.[name] !== undefined;
  return (
    <div className={own ? "own-value" : ""}>
      <ParamField
        spec={processorType(state.type).params[name]!}
        value={valuesIn(state, section)[name]!}
        sampleRate={sampleRate}
        onChange={(value, done) => set({ [name]: value }, done)}
      />
      {own && (
        <button type="button" className="as-song" onClick={() => forget(owner, state, section, name)}>
          as in the song
        </button>
      )}
    </div>
  );
}

/** Switch and settings of one processor, made from its declaration. */
export function ProcessorPanel({ owner, state, main, only, children }: Props) {
  const chosen = useSong((s) => s.processor === state.id);
  const [more, setMore] = useState(false);
  const type = processorType(state.type);
  // The most important ones are shown first; the rest is one click deeper.
  const first = main ?? type.main;
  const set = useParams(owner, state);
  const { chooseProcessor } = useSong.getState();
  const idle = type.idle(valuesIn(state, useSection()));
  const rest = (only ?? Object.keys(type.params)).filter((n) => !first.includes(n) && !idle.includes(n));
  const differs = Object.keys(state.bySection ?? {});
  const field = (name: string) => <Field key={name} owner={owner} state={state} name={name} />;
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
        {type.meters && <ReductionMeter id={state.id} />}
      </header>
      <SectionPicker differs={differs} />
      {children}
      {first.map(field)}
      {rest.length > 0 && (
        <button type="button" className="more" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : rest.length === 1 ? "One more setting" : `${rest.length} more settings`}
        </button>
      )}
      {more && rest.map(field)}
    </section>
  );
}
