"use client";
import { Table } from "react-bootstrap";
import { processorOf } from "../../core/song/create";
import { pieceNames, shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";

/** Every mic with its polarity and delay now and as measured. */
export function AlignTable() {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const ms = (frames: number) => (1000 * frames) / song.sampleRate;
  return (
    <Table size="sm" className="mic-table" aria-label="Alignment of the whole kit">
      <thead>
        <tr>
          <th>Mic</th>
          <th>Drum</th>
          <th>Against</th>
          <th>Polarity now</th>
          <th className="number">Delay now</th>
          <th>Measured</th>
          <th className="number">Low end</th>
          <th className="number">Sure</th>
        </tr>
      </thead>
      <tbody>
        {song.mics.map((m) => {
          const pair = facts.pairs[m.id];
          const delay = processorOf(m, "delay").params["delay"] as number;
          const reference = song.mics.find((x) => x.id === m.reference);
          const inverted = facts.farInverted[m.id];
          return (
            <tr key={m.id} onClick={() => useSong.getState().chooseMic(m.id)}>
              <td>{shortName(m.file)}</td>
              <td>{pieceNames[m.piece]}</td>
              <td>{reference ? shortName(reference.file) : ""}</td>
              <td>{String(processorOf(m, "polarity").params["polarity"])}</td>
              <td className="number">{signed(delay, 2)} smp</td>
              <td>
                {pair
                  ? `${pair.polarity === -1 ? "upside down, " : ""}${signed(pair.delaySamples, 2)} smp (${signed(ms(pair.delaySamples), 2)} ms)`
                  : inverted !== undefined
                    ? `${Math.round(100 * inverted)} % of drums upside down`
                    : m.silent
                      ? "silent"
                      : "main mic"}
              </td>
              <td className="number">{pair ? `${signed(pair.gainDb, 1)} dB` : ""}</td>
              <td className="number">{pair ? `${Math.round(100 * pair.confidence)} %` : ""}</td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
