"use client";
import { useId, useState } from "react";
import { isChoice, type NumberParam, type ParamSpec, type ParamValue } from "../../core/params";
import { readTyped, withUnit } from "./format";

const steps = 400;

/** Place of a value on its slider, 0..steps. */
const toSlider = (spec: NumberParam, value: number): number =>
  spec.scale === "log" && spec.min > 0
    ? (steps * Math.log(value / spec.min)) / Math.log(spec.max / spec.min)
    : (steps * (value - spec.min)) / (spec.max - spec.min);

/** A sensible figure for a place of the slider: three digits. */
function fromSlider(spec: NumberParam, place: number): number {
  const share = place / steps;
  const raw =
    spec.scale === "log" && spec.min > 0
      ? spec.min * Math.pow(spec.max / spec.min, share)
      : spec.min + share * (spec.max - spec.min);
  const rounded =
    spec.scale === "log" ? Number(raw.toPrecision(3)) : Number(raw.toFixed(spec.max - spec.min > 50 ? 1 : 3));
  return Math.min(spec.max, Math.max(spec.min, rounded));
}

interface FieldProps {
  readonly spec: NumberParam;
  readonly value: number;
  readonly sampleRate: number;
  readonly label: string;
  readonly id?: string;
  readonly onChange: (value: number, done: boolean) => void;
}

/** A typed value with its unit; what cannot be read or lies outside the range is said and not taken. */
export function TypedField({ spec, value, sampleRate, label, id, onChange }: FieldProps) {
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const take = () => {
    if (text === null) return;
    const read = readTyped(text, spec.unit, sampleRate);
    if (read === null) return setWrong(`"${text}" is no value in ${spec.unit || "numbers"}`);
    if (read < spec.min || read > spec.max)
      return setWrong(`from ${withUnit(spec.min, spec.unit)} to ${withUnit(spec.max, spec.unit)}`);
    setText(null);
    setWrong(null);
    if (Math.abs(read - value) > 1e-12) onChange(read, true);
  };
  return (
    <span className="typed">
      <input
        id={id}
        className={`form-control form-control-sm ${wrong ? "is-invalid" : ""}`}
        aria-label={label}
        aria-invalid={wrong !== null}
        title={wrong ?? spec.help}
        value={text ?? withUnit(value, spec.unit)}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          // Leaving the field takes the value, and the shortcuts of the page work again.
          if (event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") {
            setText(null);
            setWrong(null);
          }
        }}
      />
      {wrong && <span className="wrong">{wrong}</span>}
    </span>
  );
}

interface Props {
  readonly spec: ParamSpec;
  readonly value: ParamValue;
  readonly sampleRate: number;
  readonly disabled?: boolean;
  readonly onChange: (value: ParamValue, done: boolean) => void;
}

/** One parameter as its declaration tells it: a slider with a typed value, or a choice. */
export function ParamField({ spec, value, sampleRate, disabled = false, onChange }: Props) {
  const id = useId();
  if (isChoice(spec))
    return (
      <div className="param" title={spec.help}>
        <label htmlFor={id}>{spec.label}</label>
        <select
          id={id}
          className="form-select form-select-sm"
          value={String(value)}
          disabled={disabled}
          onChange={(event) => onChange(event.target.value, true)}
        >
          {spec.choices.map((c) => (
            <option key={c} value={c}>
              {c}
            </option>
          ))}
        </select>
      </div>
    );
  const number = Number(value);
  return (
    <div className="param" title={spec.help}>
      <label htmlFor={id}>{spec.label}</label>
      <input
        id={id}
        type="range"
        className="form-range"
        min={0}
        max={steps}
        step="any"
        value={toSlider(spec, number)}
        disabled={disabled}
        aria-valuetext={withUnit(number, spec.unit)}
        onChange={(event) => onChange(fromSlider(spec, Number(event.target.value)), false)}
        onPointerUp={(event) => onChange(fromSlider(spec, Number(event.currentTarget.value)), true)}
        onKeyDown={(event) => {
          const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
            event.key
          ];
          if (by === undefined) return;
          event.preventDefault();
          const place = Math.min(
            steps,
            Math.max(0, toSlider(spec, number) + (event.shiftKey ? by / 4 : by) * 2),
          );
          onChange(fromSlider(spec, place), true);
        }}
        onDoubleClick={() => onChange(spec.default, true)}
      />
      <TypedField
        spec={spec}
        value={number}
        sampleRate={sampleRate}
        label={`${spec.label}, typed`}
        onChange={onChange}
      />
    </div>
  );
}
