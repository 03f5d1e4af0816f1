"use client";
import { useMemo } from "react";
import type { NumberParam } from "../../core/params";
import { othersHeard } from "../../core/clean/treatments";
import { processorType } from "../../core/processors";
import { dynamicResponseDb } from "../../core/processors/dynamicEqResponse";
import type { Proposal } from "../../core/gather/proposal";
import { envelopeTimesMs } from "../../core/shape/hitReductions";
import { curveFrequencies } from "../../core/shape/spectrum";
import { processorOf } from "../../core/song/create";
import type { Mic } from "../../core/song/song";
import { shortName, signed } from "../shared/format";
import { useEvidence } from "../shared/evidenceClient";
import { frequencyAxis, Legend, Plot, type Series } from "../shared/Plot";
import { ProcessorPanel, useParams } from "../shared/ProcessorPanel";
import { ProposalCard } from "../shared/ProposalCard";
import { medianOr } from "../shared/medianOr";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../shared/useMic";
import { BleedAlong } from "./BleedAlong";
import { Treatments } from "./Treatments";
import { useCleaning } from "./useCleaning";
import { levelSeries, shiftLevels, verdict } from "./levels";

const noLevels = { hits: [], ghosts: [], bleed: [] };

/** One mic: strokes against bleed with the gate in it, the average stroke through it, spectra with the dynamic EQ. */
export function CleanMic({ mic, proposals }: { mic: Mic; proposals: readonly Proposal[] }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const { hits, sampleRate } = song;
  const gate = processorOf(mic, "gate");
  const dynamicEq = processorOf(mic, "dynamicEq");
  const cancel = processorOf(mic, "cancel");
  const canCancel = othersHeard(song, mic) > 0;
  const cleaning = useCleaning(mic);
  const setGate = useParams(mic, gate);
  const setEq = useParams(mic, dynamicEq);
  const trim = processorOf(mic, "trim").params["gain"] as number;
  const levels = useMemo(() => shiftLevels(facts.levels[mic.id] ?? noLevels, trim), [facts, mic.id, trim]);
  const color = mic.piece.replace(/\d/, "");
  const distribution = useMemo(() => levelSeries(levels, color), [levels, color]);
  const most = Math.max(4, ...distribution.flatMap((s) => s.points.map((p) => p[1])));
  const threshold = gate.params["threshold"] as number;
  const byHits = gate.params["opens"] === "hits";

  const audio = { audio: mic.audio!, start: mic.start };
  const strokes = useMemo(() => strokesIn(hits, mic, sampleRate), [hits, mic, sampleRate]);
  const first = gate.on || !dynamicEq.on ? gate : dynamicEq;
  const chainKey = JSON.stringify([
    mic.audio,
    mic.piece,
    hits.length,
    mic.chain.slice(0, mic.chain.indexOf(first) + 1),
  ]);
  const effect = useEvidence("effect", chainKey, {
    mic: audio,
    chain: mic.chain.map((p) => (p.id === first.id ? { ...p, on: true } : p)),
    processor: first.id,
    strokes: strokes.mains,
    hits: strokes.all,
    sampleRate,
  });
  const envelope = useMemo((): Series[] => {
    if (!effect.value) return [];
    const { envelopeBefore, envelopeAfter } = effect.value;
    return [
      { label: "before", color: "ink-soft", dashed: true, points: envelopeTimesMs.map((t, i) => [t, envelopeBefore[i]!]) },
      { label: `after ${processorType(first.type).label}`, color, width: 2.5, points: envelopeTimesMs.map((t, i) => [t, envelopeAfter[i]!]) },
    ]; // prettier-ignore
  }, [effect.value, color, first.type]);

  const spectra = useEvidence("spectra", `${mic.audio} ${mic.piece} ${hits.length}`, {
    mic: audio,
    piece: mic.piece,
    hits,
    lateBy: mic.lateBy,
    sampleRate,
  });
  const tones = useMemo((): Series[] => {
    const f = Array.from(curveFrequencies);
    const response = (share: number) =>
      f.map((x): [number, number] => [x, dynamicResponseDb(dynamicEq.params, share, x, sampleRate)]);
    const bands: Series[] = dynamicEq.on
      ? [
          { label: "EQ between strokes", color: "accent", dashed: true, width: 2, points: response(0) },
          { label: "EQ at a stroke", color: "accent", width: 2.5, points: response(1) },
        ]
      : [];
    if (!spectra.value) return bands;
    const { atHits, between } = spectra.value;
    const top = Math.max(...atHits.levels);
    return [
      { label: `at ${spectra.value.strokes} strokes`, color, width: 2, points: f.map((x, i) => [x, atHits.levels[i]! - top]) },
      { label: `between, ${spectra.value.bleedEvents} bleed events`, color: "ink-soft", fill: true, width: 1.25, points: f.map((x, i) => [x, between.levels[i]! - top]) },
      ...bands,
    ]; // prettier-ignore
  }, [spectra.value, dynamicEq, color, sampleRate]);
  const corner = dynamicEq.params["highFrequency"] as number;
  const spec = (type: string, name: string) => processorType(type).params[name] as NumberParam;
  const within = (s: NumberParam, v: number) => Math.min(s.max, Math.max(s.min, v));
  const gained = effect.value ? effect.value.betweenAfter - effect.value.betweenBefore : 0;
  const kept = effect.value ? medianOr(effect.value.peakAfter, 0) - medianOr(effect.value.peakBefore, 0) : 0;

  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {shortName(mic.file)}: strokes and bleed{" "}
          <small data-testid="verdict">
            {verdict(levels, threshold)}
            {byHits && " by level; now the strokes found open it"}
          </small>
        </h2>
        <div className="row-plots half">
          <div>
            <Legend series={distribution} />
            <Plot
              caption={`Levels of strokes and bleed in ${mic.file}, threshold at ${threshold} dBFS`}
              series={distribution}
              x={{ label: "Peak level after trim, dBFS", min: -70, max: 0 }}
              y={{ label: "Events per 2 dB", min: 0, max: Math.ceil(most * 1.08) }}
              marks={[
                {
                  id: "threshold",
                  axis: "x",
                  value: Math.max(-70, threshold),
                  label: `opens at ${threshold.toFixed(1).replace("-", "−")}`,
                  drag: (v, done) =>
                    setGate({ threshold: within(spec("gate", "threshold"), Math.round(v * 2) / 2) }, done),
                },
                {
                  id: "hysteresis",
                  axis: "x",
                  value: Math.max(-70, threshold - (gate.params["hysteresis"] as number)),
                  label: "closes",
                  dashed: true,
                  drag: (v, done) =>
                    setGate(
                      { hysteresis: within(spec("gate", "hysteresis"), Math.round((threshold - v) * 2) / 2) },
                      done,
                    ),
                },
              ]}
            />
          </div>
          <div>
            <Legend
              series={envelope}
              note={
                effect.value
                  ? `between strokes ${signed(gained, 1)} dB, peaks ${signed(kept, 1)} dB`
                  : effect.busy
                    ? "measuring …"
                    : ""
              }
            />
            <Plot
              caption={`Average stroke of ${mic.file} before and after`}
              series={envelope}
              x={{
                label: `Time from the stroke, ms, over ${strokes.mains.length} strokes`,
                min: -10,
                max: 200,
              }}
              y={{ label: "Level, dBFS", min: -90, max: 0 }}
              marks={[
                {
                  id: "hold",
                  axis: "x",
                  value: Math.min(200, 1000 * (gate.params["hold"] as number)),
                  label: `hold ${(1000 * (gate.params["hold"] as number)).toFixed(0)} ms`,
                  drag: (v, done) =>
                    setGate({ hold: within(spec("gate", "hold"), Math.max(0, Math.round(v)) / 1000) }, done),
                },
              ]}
            />
          </div>
        </div>
        <Legend series={tones} />
        <div className="half">
          <Plot
            caption={`Spectrum of ${mic.file} at its strokes and between them`}
            series={tones}
            x={frequencyAxis}
            y={{ label: "Level, dB", min: -72, max: 12 }}
            marks={
              dynamicEq.on
                ? [
                    {
                      id: "corner",
                      axis: "x",
                      value: corner,
                      label: `high band ${corner >= 1000 ? `${(corner / 1000).toFixed(2)} kHz` : `${corner.toFixed(0)} Hz`}`,
                      drag: (v, done) =>
                        setEq(
                          {
                            highFrequency: within(
                              spec("dynamicEq", "highFrequency"),
                              Number(v.toPrecision(3)),
                            ),
                          },
                          done,
                        ),
                    },
                  ]
                : []
            }
          />
        </div>
      </div>
      <aside className="settings">
        {proposals.map((p) => (
          <ProposalCard key={p.id} proposal={p} />
        ))}
        {cleaning.error && <p className="warn">{cleaning.error}</p>}
        {!cleaning.value && cleaning.busy && <p className="hint">Measuring ways to clean it …</p>}
        <Treatments mic={mic} judged={cleaning.value} />
        {canCancel ? (
          <ProcessorPanel owner={mic} state={cancel} meter first={["strength", "range"]} />
        ) : (
          <p className="hint">To cancel bleed with the other mics, analyse the kit again in Gather.</p>
        )}
        <ProcessorPanel
          owner={mic}
          state={gate}
          meter
          first={["opens", "threshold", "range", "hold", "release"]}
        />
        <ProcessorPanel
          owner={mic}
          state={dynamicEq}
          meter
          first={["opens", "highFrequency", "highGain", "highRange", "highRelease", "lowShape"]}
        />
        <BleedAlong mic={mic} value={cleaning.value?.along ?? null} />
      </aside>
    </div>
  );
}
