"use client";
import { useMemo } from "react";
import { Button, Table } from "react-bootstrap";
import { chainWith, treatmentsOf, type Treatment } from "../../core/clean/treatments";
import { bleedTimes } from "../../core/clean/spectra";
import type { Proposal } from "../../core/gather/proposal";
import { processorOf } from "../../core/song/create";
import type { Operation } from "../../core/song/operations";
import type { Mic } from "../../core/song/song";
import { useEvidence } from "../shared/evidenceClient";
import { shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../shared/useMic";

const names: Record<Treatment["id"], string> = {
  gate: "Gate",
  dynamicEq: "Dynamic EQ",
  both: "Both, gently",
};

/** Parameters that a proposal gives to a mic's gate; those it has when there is none. */
function gateOf(mic: Mic, proposals: readonly Proposal[]) {
  const gate = processorOf(mic, "gate");
  const proposed = proposals
    .map((p) => p.operation)
    .find((o) => o.op === "setProcessor" && o.processor === gate.id);
  return { ...gate.params, ...(proposed?.op === "setProcessor" ? proposed.params : {}) };
}

/** Gate, dynamic EQ and both side by side, each with what it gains and costs over all strokes of the mic. */
export function Treatments({ mic, proposals }: { mic: Mic; proposals: readonly Proposal[] }) {
  const hits = useSong((s) => s.song!.hits);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const tails = useSong((s) => s.facts.tails[mic.id]);
  const list = useMemo(() => treatmentsOf(mic, tails, gateOf(mic, proposals)), [mic, tails, proposals]);
  const strokes = useMemo(() => strokesIn(hits, mic, sampleRate), [hits, mic, sampleRate]);
  const instants = useMemo(() => {
    const mains = new Set(strokes.mains);
    return {
      mains: strokes.mains,
      ghosts: strokes.all.filter((f) => !mains.has(f)),
      bleed: bleedTimes(hits, mic.piece).map((t) => t * sampleRate + mic.lateBy),
    };
  }, [strokes, hits, mic.piece, mic.lateBy, sampleRate]);
  const chains = list.map((t) => chainWith(mic, t));
  const { value } = useEvidence(
    "treatments",
    `${mic.audio} ${hits.length} ${JSON.stringify(chains)}`,
    list.length > 0
      ? { mic: { audio: mic.audio!, start: mic.start }, chains, instants, hits: strokes.all, sampleRate }
      : null,
  );
  if (list.length === 0) return null;
  const take = (t: Treatment) => {
    const set = (type: "gate" | "dynamicEq"): Operation => ({
      op: "setProcessor",
      owner: mic.id,
      processor: processorOf(mic, type).id,
      on: t[type] !== null,
      ...(t[type] ? { params: t[type] } : {}),
    });
    useSong.getState().change(`${names[t.id]} on ${shortName(mic.file)}`, {
      op: "several",
      operations: [set("gate"), set("dynamicEq")],
    });
  };
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
            <th />
          </tr>
        </thead>
        <tbody>
          {list.map((t, i) => {
            const v = value?.[i];
            return (
              <tr key={t.id}>
                <td>
                  {names[t.id]}
                  {v && v.ghosts > 0 && (
                    <small className="quiet">
                      {" "}
                      ghosts {v.ghostsKept}/{v.ghosts}
                    </small>
                  )}
                </td>
                <td className="number">{v ? signed(v.bleedDb, 1) : "…"}</td>
                <td className="number">{v ? signed(v.strokesDb, 1) : ""}</td>
                <td className="number">{v ? signed(v.sustainDb, 1) : ""}</td>
                <td>
                  <Button size="sm" variant="link" onClick={() => take(t)}>
                    Take
                  </Button>
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <p className="hint">dB against the mic without cleaning; sustain from 80 to 250 ms.</p>
    </section>
  );
}
