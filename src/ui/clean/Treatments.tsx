"use client";
import { Button, Table } from "react-bootstrap";
import type { Treatment } from "../../core/facts/treatment";
import { setTreatment } from "../../core/clean/treatments";
import type { Mic } from "../../core/song/song";
import type { JudgedCleaning } from "../../contract";
import { shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";

const names: Record<Treatment["id"], string> = {
  cancel: "Cancel",
  gate: "Gate",
  dynamicEq: "Dyn. EQ",
  both: "Both",
};

const decayOf = (s: number | null): string => (s === null ? "–" : s.toFixed(2));

/** Ways to clean a mic side by side, each with what it gains and costs over the strokes of half a minute. */
export function Treatments({ mic, judged }: { mic: Mic; judged: JudgedCleaning | null }) {
  if (!judged || judged.ways.length === 0) return null;
  const take = (way: Treatment) =>
    useSong.getState().change(`${names[way.id]} on ${shortName(mic.file)}`, {
      op: "several",
      operations: setTreatment(mic, way),
    });
  return (
    <section className="panel treatments" aria-label={`Ways to clean ${mic.file}`}>
      <header>
        <h3>Ways to clean it</h3>
      </header>
      <Table size="sm">
        <thead>
          <tr>
            <th />
            <th className="number">Bleed</th>
            <th className="number">Strokes</th>
            <th className="number">Sustain</th>
            <th className="number">T60</th>
            <th className="number">Ghosts</th>
          </tr>
        </thead>
        <tbody>
          {judged.ways.map((t, i) => {
            const v = judged.verdicts[i]!;
            return (
              <tr key={t.id}>
                <td>
                  <Button size="sm" variant="link" onClick={() => take(t)} title={`Clean ${mic.file} so`}>
                    {names[t.id]}
                  </Button>
                </td>
                <td className="number">{signed(v.bleedDb, 1)}</td>
                <td className="number">{signed(v.strokesDb, 1)}</td>
                <td className="number">{signed(v.sustainDb, 1)}</td>
                <td className="number">{decayOf(v.decay)}</td>
                <td className="number">{v.ghosts > 0 ? `${v.ghostsKept}/${v.ghosts}` : "–"}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <p className="hint">
        Choose one to take it. dB against the mic without cleaning, sustain from 80 to 250 ms; T60 of the
        average stroke in s, {decayOf(judged.plain.decay)} as recorded.
      </p>
    </section>
  );
}
