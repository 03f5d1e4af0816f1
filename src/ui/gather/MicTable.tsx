"use client";
import { useMemo, useState, type KeyboardEvent } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
import { inKitOrder } from "../../core/song/kitOrder";
import { processorOf } from "../../core/song/create";
import { withoutMics } from "../../core/song/routes";
import { processorType } from "../../core/processors";
import type { NumberParam } from "../../core/params";
import { askBelow } from "../../core/gather/labelQuestions";
import { describeFaults } from "../../core/gather/faults";
import { clockLeft, type Facts } from "../../core/facts/facts";
import { pieces, places, type Mic, type Piece, type Place, type Song } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { clock, decibels, placeNames, shortName } from "../shared/format";
import { TypedField } from "../shared/ParamField";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { labelMics, micDrag, pieceKeys, placeKeys } from "./labelMics";

function TrimField({ mic }: { mic: Mic }) {
  const state = processorOf(mic, "trim");
  const set = useParams(mic, state, true);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return (
    <TypedField
      spec={processorType("trim").params["gain"] as NumberParam}
      value={state.params["gain"] as number}
      sampleRate={sampleRate}
      label={`Trim of ${mic.file}`}
      onChange={(gain) => set({ gain }, true)}
    />
  );
}

/** What is odd about a file, in words. */
function remarksOf(mic: Mic, song: Song, facts: Facts): string[] {
  const faults = facts.faults[mic.id];
  const drift = clockLeft(facts, mic);
  const longest = song.frames;
  return [
    ...(mic.silent ? ["silent"] : mic.unplayed ? ["never played"] : []),
    ...(faults ? describeFaults(faults, mic.peakDbfs, mic.piece) : []),
    ...(mic.start > 0 ? [`begins at ${clock(mic.start / song.sampleRate)}`] : []),
    ...(mic.start + mic.frames < 0.9 * longest
      ? [`ends at ${clock((mic.start + mic.frames) / song.sampleRate)}`]
      : []),
    ...(drift !== 0 ? [`its clock runs off by ${drift.toFixed(1)} ppm`] : []),
  ];
}

interface RowProps {
  readonly mic: Mic;
  readonly marked: boolean;
  readonly mark: (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  readonly label: (values: { piece?: Piece; place?: Place }) => void;
}

function Row({ mic: m, marked, mark, label }: RowProps) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const remarks = remarksOf(m, song, facts);
  return (
    <tr
      className={marked ? "chosen" : ""}
      aria-selected={marked}
      draggable
      onDragStart={(event) => event.dataTransfer.setData(micDrag, m.id)}
      onClick={mark}
    >
      <td
        className="name"
        title={`${m.file}, ${clock(m.frames / song.sampleRate)} long. Drag it onto a drum of the plan to label it.`}
      >
        {shortName(m.file)}
      </td>
      <td>
        <Form.Select
          size="sm"
          aria-label={`Drum of ${m.file}`}
          value={m.piece}
          disabled={m.layer !== undefined}
          onClick={(event) => event.stopPropagation()}
          onChange={(event) => label({ piece: event.target.value as Piece })}
        >
          {pieces.map((p) => (
            <option key={p} value={p}>
              {pieceNames[p]}
            </option>
          ))}
        </Form.Select>
      </td>
      <td>
        <Form.Select
          size="sm"
          aria-label={`Place of ${m.file}`}
          value={m.place}
          disabled={m.layer !== undefined}
          onClick={(event) => event.stopPropagation()}
          onChange={(event) => label({ place: event.target.value as Place })}
        >
          {places.map((p) => (
            <option key={p} value={p}>
              {placeNames[p]}
            </option>
          ))}
        </Form.Select>
      </td>
      <td className={`sure ${m.sure < askBelow ? "unsure" : ""}`}>
        {m.sure === 1 ? "by hand" : `${Math.round(100 * m.sure)} %`}
      </td>
      <td className="number">{decibels(m.peakDbfs)} dBFS</td>
      <td className="number">
        <TrimField mic={m} />
      </td>
      <td className="remark" title={remarks.join("; ")}>
        {remarks.join("; ")}
      </td>
      <td>
        <Button
          size="sm"
          variant="link"
          aria-label={`Take ${m.file} out of the song`}
          onClick={(event) => {
            event.stopPropagation();
            useSong.getState().change(`Take ${shortName(m.file)} out`, {
              op: "several",
              operations: withoutMics(song, [m.id]),
            });
          }}
        >
          <Trash aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

/** Keys with what they say, in words. */
const said = <T extends string>(
  keys: Readonly<Record<string, T>>,
  names: Readonly<Record<T, string>>,
  before: string,
): string =>
  Object.entries(keys)
    .map(([key, what]) => `${before}${key.toUpperCase()} ${names[what].toLowerCase()}`)
    .join(", ");

/** Every file with what it is, how sure that is, its level and what is odd about it. Several rows can be labelled at once. */
export function MicTable() {
  const came = useSong((s) => s.song!.mics);
  const mics = useMemo(() => inKitOrder(came), [came]);
  const chosen = useSong((s) => s.mic);
  const [marked, setMarked] = useState<readonly string[]>([]);
  const [drumSaid, setDrumSaid] = useState(false);
  const all = marked.filter((id) => mics.some((m) => m.id === id));
  const rows = all.length > 0 ? all : chosen ? [chosen] : [];
  const mark = (
    id: string,
    { shiftKey, ctrlKey, metaKey }: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean },
  ) => {
    if (ctrlKey || metaKey)
      return setMarked(rows.includes(id) ? rows.filter((x) => x !== id) : [...rows, id]);
    if (shiftKey && chosen) {
      const [from, to] = [chosen, id].map((x) => mics.findIndex((m) => m.id === x)).sort((a, b) => a - b) as [
        number,
        number,
      ];
      return setMarked(mics.slice(from, to + 1).map((m) => m.id));
    }
    setMarked([]);
    useSong.getState().chooseMic(id);
  };
  const step = (by: number) => {
    const at = mics.findIndex((m) => m.id === chosen);
    const next = mics[Math.max(0, Math.min(mics.length - 1, at + by))];
    if (next) mark(next.id, { shiftKey: false, ctrlKey: false, metaKey: false });
  };
  /** Shift and a key says the drum, a plain key right behind it the place. */
  const labelByKey = ({ code, shiftKey }: KeyboardEvent): boolean => {
    const key = code.replace(/^(Key|Digit)/, "").toLowerCase();
    const place = drumSaid && !shiftKey ? placeKeys[key] : undefined;
    const piece = shiftKey ? pieceKeys[key] : undefined;
    setDrumSaid(piece !== undefined);
    if (!place && !piece) return false;
    labelMics(rows, place ? { place } : { piece: piece! });
    return true;
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by !== undefined) step(by);
    else if (event.key === "a" && (event.ctrlKey || event.metaKey)) setMarked(mics.map((m) => m.id));
    else if (event.key === "Escape") setMarked([]);
    else if (event.key === "Enter") labelMics(rows, {});
    else if (event.key === "Shift") return;
    else if (event.ctrlKey || event.metaKey || event.altKey || !labelByKey(event)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <>
      {all.length > 1 && (
        <p className="marked" role="status">
          {all.length} files are marked; a drum or place that is chosen in one of them holds for all.
        </p>
      )}
      <details className="hint">
        <summary>Two keys label the chosen file: Shift and the drum, then the place</summary>
        {said(pieceKeys, pieceNames, "Shift ")}. Then {said(placeKeys, placeNames, "")}. Enter says that the
        label is right; A plays the file alone.
      </details>
      <div
        tabIndex={0}
        role="group"
        data-label-keys={drumSaid ? "place" : "drum"}
        aria-label="Files: arrow keys choose, Ctrl A marks all, two keys label: Shift and the drum, then the place"
        onKeyDown={onKey}
      >
        <Table size="sm" className="mic-table" aria-label="Mics">
          <thead>
            <tr>
              <th>File</th>
              <th>Drum</th>
              <th>Place</th>
              <th>Sure</th>
              <th className="number">Peak</th>
              <th className="number">Trim</th>
              <th>Remark</th>
              <th aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {mics.map((m) => (
              <Row
                key={m.id}
                mic={m}
                marked={rows.includes(m.id)}
                mark={(event) => mark(m.id, event)}
                label={(values) => labelMics(rows.includes(m.id) && all.length > 1 ? rows : [m.id], values)}
              />
            ))}
          </tbody>
        </Table>
      </div>
    </>
  );
}
