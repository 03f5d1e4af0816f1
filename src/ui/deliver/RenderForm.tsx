"use client";
import { useState } from "react";
import { Button, Form, ProgressBar } from "react-bootstrap";
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
import { fileName, nameTokens } from "../../core/deliver/fileNames";
import { number } from "../../core/params";
import type { Song } from "../../core/song/song";
import { ParamField } from "../shared/ParamField";
import { shortName } from "../shared/format";
import { useSong } from "../shared/songStore";
import { taskTold } from "../shared/timeLeft";

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

/** What a file would be called, or why the pattern cannot be used. */
function example(song: Song, { names, section, sampleRate }: Delivery): { name: string; wrong: boolean } {
  const [first] = song.mics;
  const parts = {
    song: song.title,
    name: first ? shortName(first.file) : "kit",
    kind: first ? "stem" : "",
    number: "02",
    section: song.sections.find((s) => s.id === section)?.name ?? "",
    rate: `${(sampleRate ?? song.sampleRate) / 1000} kHz`,
  };
  try {
    return { name: fileName(names, parts), wrong: false };
  } catch (error) {
    return { name: (error as Error).message, wrong: true };
  }
}

/** What is rendered of the song, and how; told again as it was asked for last time. */
export function RenderForm({ last }: { last: Delivery | null }) {
  const song = useSong((s) => s.song!);
  const current = useSong((s) => s.task);
  const [delivery, setDelivery] = useState<Delivery>(() => {
    const usual = { ...usualDelivery, tail: usualTail(song), ...last };
    return song.sections.some((s) => s.id === usual.section) ? usual : { ...usual, section: null };
  });
  const set = (values: Partial<Delivery>) => setDelivery({ ...delivery, ...values });
  const running = current?.kind === "export" && (current.state === "running" || current.state === "waiting");
  const named = example(song, delivery);
  const check = (name: "stems" | "buses" | "beside" | "limit" | "midi", label: string, disabled = false) => (
    <Form.Check
      id={`deliver-${name}`}
      label={label}
      disabled={disabled}
      checked={delivery[name]}
      onChange={(e) => set({ [name]: e.target.checked })}
    />
  );
  const choice = (
    id: string,
    label: string,
    value: string,
    options: readonly (readonly [string, string])[],
    take: (v: string) => void,
  ) => (
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
  return (
    <section className="panel" aria-label="Render">
      <header>
        <h3>Render</h3>
      </header>
      {check("stems", "Stems: every mic after its chain")}
      {check("beside", "also of music beside the kit and of what is never played", !delivery.stems)}
      {check("buses", "Buses, after their faders")}
      {check("midi", "Strokes and tempo as MIDI")}
      {song.sections.length > 0 &&
        choice(
          "section",
          "Part",
          delivery.section ?? "",
          [["", "the whole song"], ...song.sections.map((s) => [s.id, s.name] as const)],
          (v) => set({ section: v || null }),
        )}
      {delivery.section === null && (
        <ParamField
          spec={tailSpec}
          value={delivery.tail}
          sampleRate={song.sampleRate}
          onChange={(v) => set({ tail: Math.round(10 * Number(v)) / 10 })}
        />
      )}
      {choice(
        "format",
        "Format",
        delivery.format,
        fileFormats.map((f) => [f, formatNames[f]] as const),
        (v) => set({ format: v as Delivery["format"] }),
      )}
      {delivery.format === "wav16" &&
        choice(
          "dither",
          "Dither",
          delivery.dither,
          dithers.map((d) => [d, d] as const),
          (v) => set({ dither: v as Delivery["dither"] }),
        )}
      {choice(
        "rate",
        "Sample rate",
        String(delivery.sampleRate ?? ""),
        [
          ["", `the song's, ${song.sampleRate / 1000} kHz`],
          ...deliveryRates
            .filter((r) => r !== song.sampleRate)
            .map((r) => [String(r), `${r / 1000} kHz`] as const),
        ],
        (v) => set({ sampleRate: v ? Number(v) : null }),
      )}
      {choice(
        "target",
        "Level",
        delivery.target,
        Object.entries(targets).map(([key, t]) => [key, t.label] as const),
        (v) => set({ target: v as Delivery["target"] }),
      )}
      {targets[delivery.target].kind === "loudness" &&
        check("limit", "limit the kit at −1 dBTP where its peaks stand in the way")}
      <div className="deliver-names">
        <label htmlFor="deliver-names">Names</label>
        <Form.Control
          id="deliver-names"
          size="sm"
          maxLength={200}
          value={delivery.names}
          isInvalid={named.wrong}
          title={Object.entries(nameTokens)
            .map(([t, what]) => `{${t}}: ${what}`)
            .join("\n")}
          onChange={(e) => set({ names: e.target.value })}
        />
      </div>
      <p className={named.wrong ? "warn" : "hint"}>
        {named.wrong
          ? named.name
          : `as in “${named.name}”; known: ${Object.keys(nameTokens)
              .map((t) => `{${t}}`)
              .join(" ")}`}
      </p>
      {running ? (
        <>
          <ProgressBar now={100 * current.progress} aria-label="Rendering" />
          <p className="hint" data-testid="rendering">
            {taskTold(current, performance.now() / 1000)}
          </p>
          <Button size="sm" variant="outline-secondary" onClick={() => void useSong.getState().stopTask()}>
            Stop
          </Button>
        </>
      ) : (
        <Button disabled={named.wrong} onClick={() => void useSong.getState().run("export", delivery)}>
          Render the kit
        </Button>
      )}
      {current?.kind === "export" && current.state === "cancelled" && (
        <p className="hint">{current.message}</p>
      )}
    </section>
  );
}
