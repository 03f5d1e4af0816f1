"use client";
import { useState } from "react";
import { Form } from "react-bootstrap";
import {
  deliveryRates,
  dithers,
  fileFormats,
  longestTail,
  targets,
  usualDelivery,
  usualTail,
  type Delivery,
} from "../../core/deliver/delivery";
import { number } from "../../core/params";
import { ParamField } from "../shared/ParamField";
import { useSong } from "../shared/songStore";
import { exampleName, FileNames } from "./FileNames";
import { RenderButton } from "./RenderButton";

const formatNames = {
  wav24: "WAV, 24 bit",
  wav16: "WAV, 16 bit",
  wav32f: "WAV, 32 bit float",
  flac: "FLAC, 24 bit",
} as const;
const tailSpec = number(
  "Tail",
  "s",
  0,
  longestTail,
  0,
  "What rings behind the last frame of the song is kept so long.",
);

interface ChoiceProps {
  readonly id: string;
  readonly label: string;
  readonly value: string;
  /** Values and what they are called. */
  readonly options: readonly (readonly [string, string])[];
  readonly take: (value: string) => void;
}
function Choice({ id, label, value, options, take }: ChoiceProps) {
  return (
    <div className="param">
      <label htmlFor={`deliver-${id}`}>{label}</label>
      <Form.Select id={`deliver-${id}`} size="sm" value={value} onChange={(e) => take(e.target.value)}>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}

interface PartProps {
  readonly delivery: Delivery;
  readonly set: (values: Partial<Delivery>) => void;
}
interface CheckProps extends PartProps {
  readonly name: "stems" | "buses" | "beside" | "limit" | "midi";
  readonly label: string;
  readonly disabled?: boolean;
}
function Check({ name, label, disabled = false, delivery, set }: CheckProps) {
  return (
    <Form.Check
      id={`deliver-${name}`}
      label={label}
      disabled={disabled}
      checked={delivery[name]}
      onChange={(e) => set({ [name]: e.target.checked })}
    />
  );
}

/** Which part of the song, and how long it rings on. */
function PartChoice({ delivery, set }: PartProps) {
  const song = useSong((s) => s.song!);
  return (
    <>
      {song.sections.length > 0 && (
        <Choice
          id="section"
          label="Part"
          value={delivery.section ?? ""}
          options={[["", "the whole song"], ...song.sections.map((s) => [s.id, s.name] as const)]}
          take={(v) => set({ section: v || null })}
        />
      )}
      {delivery.section === null && (
        <ParamField
          spec={tailSpec}
          value={delivery.tail}
          sampleRate={song.sampleRate}
          onChange={(v) => set({ tail: Math.round(10 * Number(v)) / 10 })}
        />
      )}
    </>
  );
}

/** What kind of files: format, dither where it is needed, sample rate. */
function FormatChoice({ delivery, set }: PartProps) {
  const songRate = useSong((s) => s.song!.sampleRate);
  const others = deliveryRates.filter((r) => r !== songRate);
  return (
    <>
      <Choice
        id="format"
        label="Format"
        value={delivery.format}
        options={fileFormats.map((f) => [f, formatNames[f]])}
        take={(v) => set({ format: v as Delivery["format"] })}
      />
      {delivery.format === "wav16" && (
        <Choice
          id="dither"
          label="Dither"
          value={delivery.dither}
          options={dithers.map((d) => [d, d])}
          take={(v) => set({ dither: v as Delivery["dither"] })}
        />
      )}
      <Choice
        id="rate"
        label="Sample rate"
        value={String(delivery.sampleRate ?? "")}
        options={[
          ["", `the song's, ${songRate / 1000} kHz`],
          ...others.map((r) => [String(r), `${r / 1000} kHz`] as const),
        ]}
        take={(v) => set({ sampleRate: v ? Number(v) : null })}
      />
    </>
  );
}

/** How loud the kit is delivered. */
function LevelChoice({ delivery, set }: PartProps) {
  return (
    <>
      <Choice
        id="target"
        label="Level"
        value={delivery.target}
        options={Object.entries(targets).map(([key, t]) => [key, t.label])}
        take={(v) => set({ target: v as Delivery["target"] })}
      />
      {targets[delivery.target].kind === "loudness" && (
        <Check
          name="limit"
          label="limit the kit at −1 dBTP where its peaks stand in the way"
          {...{ delivery, set }}
        />
      )}
    </>
  );
}

/** What is asked for of a song: at first what was asked for last time. */
export function useDelivery(last: Delivery | null): PartProps {
  const song = useSong((s) => s.song!);
  const [delivery, setDelivery] = useState<Delivery>(() => ({
    ...usualDelivery,
    tail: usualTail(song),
    ...last,
  }));
  const there = song.sections.some((s) => s.id === delivery.section);
  return {
    delivery: there ? delivery : { ...delivery, section: null },
    set: (values) => setDelivery({ ...delivery, ...values }),
  };
}

/** What is rendered of the song, and how. */
export function RenderForm(part: PartProps) {
  const { delivery, set } = part;
  const song = useSong((s) => s.song!);
  const named = exampleName(song, delivery);
  return (
    <section className="panel" aria-label="Render">
      <header>
        <h3>Render</h3>
      </header>
      <Check name="stems" label="Stems: every mic after its chain" {...part} />
      <Check
        name="beside"
        label="also of music beside the kit and of what is never played"
        disabled={!delivery.stems}
        {...part}
      />
      <Check name="buses" label="Buses, after their faders" {...part} />
      <Check name="midi" label="Strokes and tempo as MIDI" {...part} />
      <PartChoice {...part} />
      <FormatChoice {...part} />
      <LevelChoice {...part} />
      <FileNames pattern={delivery.names} named={named} take={(names) => set({ names })} />
      <RenderButton delivery={delivery} disabled={named.wrong} />
    </section>
  );
}
