"use client";
import { useId, useState } from "react";
import { isChoice, type NumberParam, type ParamSpec, type ParamValue } from "../../core/params";
import { readTyped, withUnit } from "./format";
import { Slider, type SliderWay } from "./Slider";

const places = 400;

/** A parameter's scale on a slider, three digits of it. */
function wayOf({ scale, min, max }: NumberParam): SliderWay {
  const log = scale === "log" && min > 0;
  return {
    places,
    key: 2,
    toPlace: (value) =>
      (places * (log ? Math.log(value / min) : value - min)) / (log ? Math.log(max / min) : max - min),
    fromPlace(place) {
      const share = place / places;
      const raw = log ? min * Math.pow(max / min, share) : min + share * (max - min);
      const digits = max - min > 50 ? 1 : 3;
      const rounded = scale === "log" ? Number(raw.toPrecision(3)) : Number(raw.toFixed(digits));
      return Math.min(max, Math.max(min, rounded));
    },
  };
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
      <Slider
        id={id}
        way={wayOf(spec)}
        value={number}
        rest={spec.default}
        text={withUnit(number, spec.unit)}
        disabled={disabled}
        set={onChange}
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
