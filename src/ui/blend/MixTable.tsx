"use client";
import { useEffect, useRef } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { number, type NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { processorOf } from "../../core/song/create";
import type { BusValues, MicValues } from "../../core/song/operations";
import type { Bus, Mic, Send } from "../../core/song/song";
import { atMostEvery, setStyle } from "../shared/draw";
import { pieceNames, shortName } from "../shared/format";
import { TypedField } from "../shared/ParamField";
import { playback } from "../shared/playback";
import { useParams } from "../shared/ProcessorPanel";
import { useSection, valuesIn } from "../shared/sectionChoice";
import { SectionPicker } from "../shared/SectionPicker";
import { useSong } from "../shared/songStore";

const levelSpec = number("Level", "dB", -80, 12, 0, "Level in the mix; 0 dB leaves it as it is.");
const panSpec = processorType("pan").params["position"] as NumberParam;

/** Slider place of a level: most of the way for the last 30 dB. */
const toPlace = (db: number) => 100 * Math.pow(Math.max(0, (db + 80) / 92), 2.2);
const fromPlace = (place: number) => Math.round(10 * (92 * Math.pow(place / 100, 1 / 2.2) - 80)) / 10;

function Level({
  value,
  label,
  set,
}: {
  value: number;
  label: string;
  set: (db: number, done: boolean) => void;
}) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return (
    <span className="level">
      <input
        type="range"
        className="form-range"
        aria-label={label}
        min={0}
        max={100}
        step={0.5}
        value={toPlace(value)}
        onChange={(event) => set(fromPlace(Number(event.target.value)), false)}
        onPointerUp={(event) => set(fromPlace(Number(event.currentTarget.value)), true)}
        onKeyUp={(event) => set(fromPlace(Number(event.currentTarget.value)), true)}
        onDoubleClick={() => set(0, true)}
      />
      <TypedField
        spec={levelSpec}
        value={value}
        sampleRate={sampleRate}
        label={`${label}, typed`}
        onChange={set}
      />
    </span>
  );
}

/** Peak bars of all mics, drawn without React. */
function useMeters(mics: readonly Mic[]) {
  const bars = useRef(new Map<string, HTMLElement>());
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(60, ({ peaks }) =>
          mics.forEach((m, i) => {
            const db = 20 * Math.log10(Math.max(1e-5, peaks[i] ?? 0));
            const share = Math.min(100, Math.max(0, (db + 60) * (100 / 60)));
            setStyle(bars.current.get(m.id), "width", `${share.toFixed(0)}%`);
          }),
        ),
      ),
    [mics],
  );
  return (id: string) => (element: HTMLElement | null) => {
    if (element) bars.current.set(id, element);
    else bars.current.delete(id);
  };
}

function PanField({ mic }: { mic: Mic }) {
  const state = processorOf(mic, "pan");
  const set = useParams(mic, state);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const position = valuesIn(state, useSection())["position"] as number;
  return (
    <span className="pan">
      <input
        type="range"
        className="form-range"
        aria-label={`Pan of ${shortName(mic.file)}`}
        min={-100}
        max={100}
        step={1}
        value={position}
        onChange={(event) => set({ position: Number(event.target.value) }, false)}
        onPointerUp={(event) => set({ position: Number(event.currentTarget.value) }, true)}
        onKeyUp={(event) => set({ position: Number(event.currentTarget.value) }, true)}
        onDoubleClick={() => set({ position: 0 }, true)}
      />
      <TypedField
        spec={panSpec}
        value={position}
        sampleRate={sampleRate}
        label={`Pan of ${shortName(mic.file)}, typed`}
        onChange={(v) => set({ position: Math.round(v) }, true)}
      />
    </span>
  );
}

/** A bus's name that fits over a column of sends; the whole one is its title. */
const shortBus = (name: string): string => {
  const last = name.replace("Parallel ", "");
  return last.length > 8 ? `${last.slice(0, 5)}.` : last;
};

/** One send: empty is off; a level in dB switches it on. */
function SendField({ mic, bus }: { mic: Mic; bus: Bus }) {
  const send = mic.sends.find((s) => s.bus === bus.id);
  const set = (text: string) => {
    const rest = mic.sends.filter((s) => s.bus !== bus.id);
    const level = Number(text.replace("−", "-").replace(/\s*dB\s*$/i, ""));
    const off = text.trim() === "" || text.trim() === "off";
    if (!off && !(level >= -80 && level <= 12)) return;
    if (off ? !send : send?.level === level) return;
    // A room hears the kit and not the faders; a parallel path follows them.
    const next: Send[] = off ? rest : [...rest, { bus: bus.id, level, from: bus.kind === "room" ? "chain" : "fader", followsPan: true }];
    useSong
      .getState()
      .change(`Send ${shortName(mic.file)} to ${bus.name}`, { op: "setSends", owner: mic.id, sends: next });
  };
  return (
    <input
      key={send ? send.level : "off"}
      className={`form-control form-control-sm send ${send ? "" : "none"}`}
      aria-label={`Send of ${shortName(mic.file)} to ${bus.name}, dB; empty is off`}
      title={bus.kind === "room" ? "before the fader" : "after the fader"}
      defaultValue={send ? `${String(send.level).replace("-", "−")} dB` : ""}
      placeholder="–"
      onFocus={(event) => event.target.select()}
      onBlur={(event) => set(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}

function Switches({
  name,
  muted,
  soloed,
  set,
}: {
  name: string;
  muted: boolean;
  soloed: boolean;
  set: (values: { muted?: boolean; soloed?: boolean }) => void;
}) {
  return (
    <span className="switches">
      <Button
        size="sm"
        variant={muted ? "dark" : "outline-secondary"}
        aria-pressed={muted}
        aria-label={`Mute ${name}`}
        onClick={() => set({ muted: !muted })}
      >
        mute
      </Button>
      <Button
        size="sm"
        variant={soloed ? "primary" : "outline-secondary"}
        aria-pressed={soloed}
        aria-label={`Solo ${name}`}
        onClick={() => set({ soloed: !soloed })}
      >
        solo
      </Button>
    </span>
  );
}

interface Props {
  readonly chosenBus: string;
  readonly chooseBus: (id: string) => void;
}

/** What an edit is called in the history. */
const what = (values: object): string => {
  const [first] = Object.keys(values);
  return first === "levelBySection" ? "level in a section" : String(first);
};

/** Mics and buses with level, pan, sends, mute and solo; worked by keyboard or mouse. */
export function MixTable({ chosenBus, chooseBus }: Props) {
  const song = useSong((s) => s.song!);
  const chosenMic = useSong((s) => s.mic);
  const { change, preview, chooseMic } = useSong.getState();
  const meter = useMeters(song.mics);
  const returns = song.buses.filter((b) => b.kind === "parallel" || b.kind === "room");
  const section = useSection();
  const levelOf = (o: Mic | Bus): number =>
    (section === null ? undefined : o.levelBySection?.[section]) ?? o.level;
  /** The fader in the chosen section, or in the whole song. */
  const levelValues = (o: Mic | Bus, level: number) =>
    section ? { levelBySection: { ...o.levelBySection, [section]: level } } : { level };
  const differs = [...song.mics, ...song.buses].flatMap((o) => Object.keys(o.levelBySection ?? {}));
  const setMic = (m: Mic, values: MicValues, done = true) => {
    const operation = { op: "setMic" as const, mic: m.id, values };
    if (done) change(`${what(values)} of ${shortName(m.file)}`, operation);
    else preview(operation);
  };
  const setBus = (b: Bus, values: BusValues, done = true) => {
    const operation = { op: "setBus" as const, bus: b.id, values };
    if (done) change(`${what(values)} of ${b.name}`, operation);
    else preview(operation);
  };
  return (
    <Table size="sm" className="mix-table" aria-label="Mix">
      <thead>
        <tr>
          <th>
            Mic <SectionPicker differs={differs} />
          </th>
          <th aria-label="Peak" />
          <th>Level</th>
          <th>Pan</th>
          {returns.map((b) => (
            <th key={b.id} className="send-head" title={`Send to ${b.name}`}>
              <button type="button" className="more" onClick={() => chooseBus(b.id)}>
                {shortBus(b.name)}
              </button>
            </th>
          ))}
          <th aria-label="Mute and solo" />
        </tr>
      </thead>
      <tbody>
        {song.mics.map((m) => (
          <tr key={m.id} className={m.id === chosenMic ? "chosen" : ""} onClick={() => chooseMic(m.id)}>
            <td className="mix-name">
              <b>{pieceNames[m.piece]}</b> <span>{shortName(m.file)}</span>
            </td>
            <td className="meter">
              <span>
                <i ref={meter(m.id)} />
              </span>
            </td>
            <td>
              <Level
                value={levelOf(m)}
                label={`Level of ${shortName(m.file)}`}
                set={(level, done) => setMic(m, levelValues(m, level), done)}
              />
            </td>
            <td>
              <PanField mic={m} />
            </td>
            {returns.map((b) => (
              <td key={b.id}>
                <SendField mic={m} bus={b} />
              </td>
            ))}
            <td>
              <Switches
                name={shortName(m.file)}
                muted={m.muted}
                soloed={m.soloed}
                set={(values) => setMic(m, values)}
              />
            </td>
          </tr>
        ))}
        {song.buses.map((b) => (
          <tr
            key={b.id}
            className={`bus ${b.id === chosenBus ? "chosen" : ""}`}
            onClick={() => chooseBus(b.id)}
          >
            <td className="mix-name" colSpan={2}>
              <b>{b.name}</b>{" "}
              <span>
                {b.output === null
                  ? "all of it"
                  : `${song.mics.filter((m) => m.sends.some((s) => s.bus === b.id)).length} mics`}
              </span>
            </td>
            <td>
              <Level
                value={levelOf(b)}
                label={`Level of ${b.name}`}
                set={(level, done) => setBus(b, levelValues(b, level), done)}
              />
            </td>
            <td colSpan={1 + returns.length}>
              <span className="chain-text">
                {b.chain
                  .filter((p) => p.on)
                  .map((p) => processorType(p.type).label)
                  .join(", ") || "nothing on it"}
              </span>
            </td>
            <td>
              {b.output !== null ? (
                <Switches
                  name={b.name}
                  muted={b.muted}
                  soloed={b.soloed}
                  set={(values) => setBus(b, values)}
                />
              ) : (
                <Form.Text>always on</Form.Text>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
