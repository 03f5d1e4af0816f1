"use client";
import { useMemo } from "react";
import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { dynamicResponseDb } from "../../core/processors/dynamicEqResponse";
import { curveFrequencies } from "../../core/shape/spectrum";
import type { Mic, ProcessorState } from "../../core/song/song";
import { useEvidence } from "../shared/evidenceClient";
import { frequencyAxis, Legend, Plot, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { within } from "./LevelPicture";

/** Spectra of a mic at its drum's strokes and between them, with the dynamic EQ's curves at rest and at a stroke. */
export function TonePicture({ mic, dynamicEq }: { mic: Mic; dynamicEq: ProcessorState }) {
  const { hits, sampleRate } = useSong((s) => s.song!);
  const set = useParams(mic, dynamicEq);
  const color = mic.piece.replace(/\d/, "");
  const spectra = useEvidence("spectra", `${mic.audio} ${mic.piece} ${hits.length}`, {
    mic: { audio: mic.audio!, start: mic.start },
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
  const spec = processorType("dynamicEq").params["highFrequency"] as NumberParam;
  return (
    <>
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
                    drag: (v, done) => set({ highFrequency: within(spec, Number(v.toPrecision(3))) }, done),
                  },
                ]
              : []
          }
        />
      </div>
    </>
  );
}
