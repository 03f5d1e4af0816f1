"use client";
import { useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import type { RecordMeasured } from "../../contract";
import { largestDifferences, type BesideRecord, type Tonality } from "../../core/blend/besideRecord";
import { thirdOctaves } from "../../core/measure/thirdOctaves";
import { api } from "../shared/api";
import { decibels, signed, withUnit } from "../shared/format";
import { Record } from "../compare/otherSides";
import { Legend, Plot, type Series } from "../shared/Plot";
import { useMeasured } from "../shared/useMeasured";
import { useSong } from "../shared/songStore";

/** Where the kit differs most from the record, in words. */
function differencesTold({ kit, record }: BesideRecord): string {
  const all = largestDifferences(kit.bands, record.bands);
  if (all.length === 0) return "as much as the record everywhere, within 3 dB";
  return all.map(({ frequency, by }) => `${signed(by, 1)} dB at ${withUnit(frequency, "Hz")}`).join(", ");
}

const rows: readonly {
  readonly label: string;
  readonly title: string;
  readonly of: (t: Tonality) => string;
}[] = [
  {
    label: "Loudness",
    title: "ITU-R BS.1770, gated, over what is measured",
    of: (t) => `${decibels(t.integrated, 1)} LUFS`,
  },
  { label: "True peak", title: "ITU-R BS.1770, annex 2", of: (t) => `${decibels(t.truePeakDb, 1)} dBTP` },
  {
    label: "Crest",
    title: "Largest sample against the mean power",
    of: (t) => `${decibels(t.crestDb, 1)} dB`,
  },
  {
    label: "Low end",
    title: "What lies below 120 Hz against the whole",
    of: (t) => `${decibels(t.lowDb, 1)} dB`,
  },
];

const lineOf = (t: Tonality): [number, number][] =>
  t.bands.map((level, i) => [thirdOctaves[i]!, Math.max(-80, level)]);

/** What was measured of both: levels by third octave, and figures. */
function Measured({ value }: { value: RecordMeasured }) {
  const series: Series[] = [
    { label: "record", color: "ink-soft", kind: "line", points: lineOf(value.record) },
    { label: "kit", color: "accent", kind: "line", points: lineOf(value.kit) },
  ];
  const levels = series.flatMap((s) => s.points.map(([, y]) => y));
  return (
    <>
      <h2>
        Kit and record, equally loud{" "}
        <small data-testid="beside-record">the kit has {differencesTold(value)}</small>
      </h2>
      <Legend
        series={series}
        note={`kit from ${value.kitFrom.toFixed(1)} s, record from ${value.recordFrom.toFixed(0)} s, where it is loudest`}
      />
      <div className="half">
        <Plot
          caption="Levels of kit and record by third octave"
          series={series}
          x={{ label: "Frequency, Hz", min: 30, max: 17000, log: true }}
          y={{
            label: "Level, dB",
            min: Math.floor(Math.min(...levels) / 10) * 10,
            max: Math.ceil(Math.max(...levels) / 10) * 10,
          }}
        />
      </div>
      <Table size="sm" aria-label="Kit and record">
        <thead>
          <tr>
            <th aria-label="Figure" />
            <th>Kit</th>
            <th>Record</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ label, title, of: figure }) => (
            <tr key={label} title={title}>
              <td>{label}</td>
              <td>{figure(value.kit)}</td>
              <td>{figure(value.record)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

/** The kit beside a reference record: equally loud, by third octave, and in figures. */
export function RecordBench() {
  const song = useSong((s) => s.song!);
  const [section, setSection] = useState("");
  const known = song.sections.some((s) => s.id === section) ? section : "";
  const { value, of, busy, measure } = useMeasured((id) => api.measureRecord(id, known || null));
  const none = !song.mics.some((m) => m.piece === "context");
  if (none)
    return (
      <p className="lead">
        Bring a finished record in as a file, label it as other music in Gather, and choose it here: the kit
        is laid over it, equally loud. It is never part of the kit.
      </p>
    );
  return (
    <>
      <div className="bench-head">
        <Record song={song} />
        <Form.Select
          size="sm"
          aria-label="What of the kit"
          value={known}
          onChange={(e) => setSection(e.target.value)}
        >
          <option value="">where most is struck</option>
          {song.sections.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Form.Select>
        <Button size="sm" disabled={busy || !song.referenceRecord} onClick={() => void measure()}>
          {busy ? "Measuring …" : "Lay the kit over the record"}
        </Button>
        {value && of !== song && <span className="warn">The song has changed since.</span>}
      </div>
      {value ? (
        <Measured value={value} />
      ) : (
        <p className="lead">
          Measures the kit as it stands, over the 30 s where most is struck or the first 30 s of a section,
          and the 30 s where the record is loudest. To hear both, choose “a record …” at the top: they are
          matched in loudness over what plays.
        </p>
      )}
    </>
  );
}
