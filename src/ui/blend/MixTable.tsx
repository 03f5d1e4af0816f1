"use client";
import { useEffect, useMemo, useRef } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { ChevronDown, ChevronRight } from "react-bootstrap-icons";
import { isFree } from "../../core/song/chain";
import { allTargets, isMic, ownersOf, type Owner } from "../../core/song/graph";
import { levelParam } from "../../core/song/limits";
import type { Operation } from "../../core/song/operations";
import type { Bus, Mic, Song } from "../../core/song/song";
import { atMostEvery, setShare } from "../shared/draw";
import { shortName } from "../shared/format";
import { TypedField } from "../shared/ParamField";
import { playback } from "../shared/playback";
import { ownerName } from "../shared/ProcessorPanel";
import { useSection } from "../shared/sectionChoice";
import { SectionPicker } from "../shared/SectionPicker";
import { useSong } from "../shared/songStore";
import { colourOf, isBeside, mixRows, unfolded } from "./mixOrder";
import { useFolded } from "./folded";
import { useMoves } from "./moves/moveStore";
import { rideLevel } from "./moves/writeMoves";
import { faderIn, fadersTogether, panIn, panParam, pansTogether, switchedTogether } from "./together";
import { useTogether } from "./useTogether";
import { routeTo, setOwner, type OwnerValues } from "./routing";

/** Keys that move a slider. */
const moves = (key: string): boolean => /^(Arrow|Page|Home|End)/.test(key);

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
        onKeyUp={(event) => moves(event.key) && set(fromPlace(Number(event.currentTarget.value)), true)}
        onDoubleClick={() => set(0, true)}
      />
      <TypedField
        spec={levelParam}
        value={value}
        sampleRate={sampleRate}
        label={`${label}, typed`}
        onChange={set}
      />
    </span>
  );
}

/** Peak bars of all mics and buses, drawn without React. */
function useMeters({ mics, buses }: Song) {
  const bars = useRef(new Map<string, HTMLElement>());
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(60, ({ peaks, busPeaks }) => {
          const draw = (id: string, peak: number) => {
            const db = 20 * Math.log10(Math.max(1e-5, peak));
            setShare(bars.current.get(id), (db + 60) / 60);
          };
          mics.forEach((m, i) => draw(m.id, peaks[i] ?? 0));
          buses.forEach((b, i) => draw(b.id, busPeaks[i] ?? 0));
        }),
      ),
    [mics, buses],
  );
  return (id: string) => (element: HTMLElement | null) => {
    if (element) bars.current.set(id, element);
    else bars.current.delete(id);
  };
}

interface PanProps {
  readonly mic: Mic;
  readonly position: number;
  readonly set: (position: number, done: boolean) => void;
}

function PanField({ mic, position, set }: PanProps) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return (
    <span className="pan">
      <input
        type="range"
        className="form-range"
        aria-label={`Pan of ${shortName(mic.file)}`}
        min={panParam.min}
        max={panParam.max}
        step={1}
        value={position}
        onChange={(event) => set(Number(event.target.value), false)}
        onPointerUp={(event) => set(Number(event.currentTarget.value), true)}
        onKeyUp={(event) => moves(event.key) && set(Number(event.currentTarget.value), true)}
        onDoubleClick={() => set(0, true)}
      />
      <TypedField
        spec={panParam}
        value={position}
        sampleRate={sampleRate}
        label={`Pan of ${shortName(mic.file)}, typed`}
        onChange={(v) => set(Math.round(v), true)}
      />
    </span>
  );
}

/** Where a mic or bus goes: a list that offers no loop. */
function OutputField({ owner, targets }: { owner: Owner; targets: readonly Bus[] }) {
  return (
    <Form.Select
      size="sm"
      className="output"
      aria-label={`${ownerName(owner)} goes to`}
      value={owner.output!}
      onClick={(e) => e.stopPropagation()}
      onChange={(e) => routeTo(owner, e.target.value, e.target.selectedOptions[0]!.text)}
    >
      {targets.map((b) => (
        <option key={b.id} value={b.id}>
          {b.name}
        </option>
      ))}
    </Form.Select>
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
  /** Mic or bus on the bench, by id. */
  readonly chosen: string;
  readonly choose: (owner: Owner) => void;
}

/** What an edit is called in the history. */
const what = (values: object): string => String(Object.keys(values)[0]);

/** All mics and buses, what goes to a bus under it: level, pan, where it goes, mute and solo; worked by keyboard or mouse. */
export function MixTable({ chosen, choose }: Props) {
  const song = useSong((s) => s.song!);
  const { change, preview } = useSong.getState();
  const meter = useMeters(song);
  const section = useSection();
  const ridden = useMoves((s) => s.ridden);
  const levelOf = (o: Owner): number => (ridden?.id === o.id ? ridden.level : faderIn(o, section));
  const differs = ownersOf(song).flatMap((o) => Object.keys(o.levelBySection ?? {}));
  const set = (o: Owner, values: OwnerValues) =>
    change(`${what(values)} of ${ownerName(o)}`, setOwner(o, values));
  const rows = useMemo(() => mixRows(song), [song]);
  const { together, choosing, isWith } = useTogether(chosen);
  const put = (name: string, o: Owner, all: readonly Owner[], operation: Operation, done: boolean) => {
    const where = section === null ? name : `${name} in a section`;
    const whose = all.length === 1 ? ownerName(o) : `${all.length} mics and buses`;
    if (done) change(`${where} of ${whose}`, operation);
    else preview(operation);
  };
  /** Puts a fader, and by as much those that were chosen with it. */
  const setLevel = (o: Owner, level: number, done: boolean) => {
    const all = together(song, o);
    if (all.length === 1 && rideLevel(o, levelOf(o), level)) return;
    put("level", o, all, fadersTogether(all, o, level, section), done);
  };
  const setPan = (mic: Mic, position: number, done: boolean) => {
    const all = together(song, mic).filter(isMic);
    put("pan", mic, all, pansTogether(all, mic, position, section), done);
  };
  const setSwitches = (o: Owner, values: { muted?: boolean; soloed?: boolean }) => {
    const all = together(song, o);
    if (all.length === 1) return set(o, values);
    change(`${what(values)} of ${all.length} mics and buses`, switchedTogether(all, values));
  };
  const { folded, fold } = useFolded();
  const { shown, hides } = useMemo(() => unfolded(rows, folded), [rows, folded]);
  const targetsOf = useMemo(() => allTargets(song), [song]);
  return (
    <Table size="sm" className="mix-table" aria-label="Mix">
      <thead>
        <tr>
          <th>
            Mic or bus <SectionPicker differs={differs} />
          </th>
          <th aria-label="Peak" />
          <th>Level</th>
          <th>Pan</th>
          <th>Goes to</th>
          <th title="Processors that are on">On</th>
          <th title="Sends">Sends</th>
          <th aria-label="Mute and solo" />
        </tr>
      </thead>
      <tbody>
        {shown.map(({ owner: o, depth }) => (
          <tr
            key={o.id}
            className={`${isMic(o) ? "" : "bus"} ${o.id === chosen || isWith(o.id) ? "chosen" : ""}`}
            onClick={(event) => choosing(event, o.id, shown) || choose(o)}
          >
            <td className="mix-name" style={{ paddingLeft: `${0.1 + 0.45 * depth}rem` }}>
              {!hides.has(o.id) ? (
                <span className="fold" aria-hidden />
              ) : (
                <button
                  type="button"
                  className="fold"
                  aria-expanded={!folded.has(o.id)}
                  aria-label={`${folded.has(o.id) ? "Show" : "Hide"} what goes to ${ownerName(o)}`}
                  onClick={(e) => {
                    e.stopPropagation();
                    fold(o.id);
                  }}
                >
                  {folded.has(o.id) ? <ChevronRight aria-hidden /> : <ChevronDown aria-hidden />}
                </button>
              )}
              <i aria-hidden style={{ background: colourOf(o) }} />
              <button
                type="button"
                aria-pressed={o.id === chosen || isWith(o.id)}
                title={`${ownerName(o)}; Ctrl or Shift and a press choose several, which move together`}
                onClick={(event) => {
                  event.stopPropagation();
                  if (!choosing(event, o.id, shown)) choose(o);
                }}
              >
                {ownerName(o)}
              </button>
            </td>
            <td className="meter">
              <span>
                <i ref={meter(o.id)} />
              </span>
            </td>
            <td>
              <Level
                value={levelOf(o)}
                label={`Level of ${ownerName(o)}`}
                set={(level, done) => setLevel(o, level, done)}
              />
            </td>
            <td>
              {isMic(o) ? (
                <PanField
                  mic={o}
                  position={panIn(o, section)}
                  set={(position, done) => setPan(o, position, done)}
                />
              ) : (
                <BalanceText bus={o} />
              )}
            </td>
            <td>
              {isBeside(o) ? (
                <span
                  className="chain-text"
                  title="Heard while one judges; no part of the kit and of no render of it"
                >
                  beside the kit
                </span>
              ) : (
                o.output !== null && <OutputField owner={o} targets={targetsOf(o.id)} />
              )}
            </td>
            <td className="count">{o.chain.filter((p) => isFree(p) && p.on).length || ""}</td>
            <td className="count">{o.sends.length || ""}</td>
            <td>
              {o.output !== null ? (
                <Switches
                  name={ownerName(o)}
                  muted={o.muted}
                  soloed={o.soloed}
                  set={(values) => setSwitches(o, values)}
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

/** The picture of a bus in a few letters; it is set beside the table. */
const BalanceText = ({ bus }: { bus: Bus }) => (
  <span className="chain-text">
    {bus.width !== 100 && `width ${bus.width} %`}
    {bus.width !== 100 && bus.pan !== 0 && ", "}
    {bus.pan !== 0 && `balance ${bus.pan} %`}
  </span>
);
