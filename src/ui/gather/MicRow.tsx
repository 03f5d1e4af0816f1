"use client";
import { Button, Form } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
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
import { micDrag } from "./labelMics";

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

interface LabelProps<T extends string> {
  readonly mic: Mic;
  readonly what: "Drum" | "Place";
  readonly value: T;
  readonly known: readonly T[];
  readonly names: Readonly<Record<T, string>>;
  readonly take: (value: T) => void;
}
/** Drum or place of a file; what a layer plays is not chosen here. */
function LabelChoice<T extends string>({ mic, what, value, known, names, take }: LabelProps<T>) {
  return (
    <Form.Select
      size="sm"
      aria-label={`${what} of ${mic.file}`}
      value={value}
      disabled={mic.layer !== undefined}
      onClick={(event) => event.stopPropagation()}
      onChange={(event) => take(event.target.value as T)}
    >
      {known.map((k) => (
        <option key={k} value={k}>
          {names[k]}
        </option>
      ))}
    </Form.Select>
  );
}

function TakeOut({ mic }: { mic: Mic }) {
  const song = useSong((s) => s.song!);
  return (
    <Button
      size="sm"
      variant="link"
      aria-label={`Take ${mic.file} out of the song`}
      onClick={(event) => {
        event.stopPropagation();
        useSong.getState().change(`Take ${shortName(mic.file)} out`, {
          op: "several",
          operations: withoutMics(song, [mic.id]),
        });
      }}
    >
      <Trash aria-hidden />
    </Button>
  );
}

interface RowProps {
  readonly mic: Mic;
  readonly marked: boolean;
  readonly mark: (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  readonly label: (values: { piece?: Piece; place?: Place }) => void;
}

/** One file; it can be dragged onto a drum of the plan. */
export function MicRow({ mic: m, marked, mark, label }: RowProps) {
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
        <LabelChoice
          mic={m}
          what="Drum"
          value={m.piece}
          known={pieces}
          names={pieceNames}
          take={(piece) => label({ piece })}
        />
      </td>
      <td>
        <LabelChoice
          mic={m}
          what="Place"
          value={m.place}
          known={places}
          names={placeNames}
          take={(place) => label({ place })}
        />
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
        <TakeOut mic={m} />
      </td>
    </tr>
  );
}
