"use client";
import { Button, Form, Table } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
import { processorOf } from "../../core/song/create";
import { processorType } from "../../core/processors";
import type { NumberParam } from "../../core/params";
import { pieces, places, type Mic, type Piece, type Place } from "../../core/song/song";
import { clock, decibels, pieceNames, placeNames, shortName } from "../shared/format";
import { TypedField } from "../shared/ParamField";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";

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

/** Every file with what it is, how sure that is, and its level. */
export function MicTable() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.mic);
  const { change, chooseMic } = useSong.getState();
  const label = (m: Mic, values: { piece?: Piece; place?: Place }) =>
    change(`Label ${shortName(m.file)}`, { op: "setMic", mic: m.id, values: { ...values, sure: 1 } });
  return (
    <Table size="sm" className="mic-table" aria-label="Mics">
      <thead>
        <tr>
          <th>File</th>
          <th>Drum</th>
          <th>Place</th>
          <th>Sure</th>
          <th className="number">Peak</th>
          <th className="number">Trim</th>
          <th className="number">Length</th>
          <th>Remark</th>
          <th aria-label="Remove" />
        </tr>
      </thead>
      <tbody>
        {song.mics.map((m) => (
          <tr key={m.id} className={m.id === chosen ? "chosen" : ""} onClick={() => chooseMic(m.id)}>
            <td title={m.file}>{shortName(m.file)}</td>
            <td>
              <Form.Select
                size="sm"
                aria-label={`Drum of ${m.file}`}
                value={m.piece}
                onChange={(event) => label(m, { piece: event.target.value as Piece })}
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
                onChange={(event) => label(m, { place: event.target.value as Place })}
              >
                {places.map((p) => (
                  <option key={p} value={p}>
                    {placeNames[p]}
                  </option>
                ))}
              </Form.Select>
            </td>
            <td>{m.sure === 1 ? "by hand" : `${Math.round(100 * m.sure)} %`}</td>
            <td className="number">{decibels(m.peakDbfs)} dBFS</td>
            <td className="number">
              <TrimField mic={m} />
            </td>
            <td className="number">{clock(m.frames / song.sampleRate)}</td>
            <td>{m.silent ? "silent" : m.unplayed ? "never played" : ""}</td>
            <td>
              <Button
                size="sm"
                variant="link"
                aria-label={`Take ${m.file} out of the song`}
                onClick={(event) => {
                  event.stopPropagation();
                  change(`Take ${shortName(m.file)} out`, { op: "removeMics", mics: [m.id] });
                }}
              >
                <Trash aria-hidden />
              </Button>
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
