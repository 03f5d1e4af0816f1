"use client";
import { useMemo } from "react";
import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import type { Levels } from "../../core/clean/decide";
import type { Mic, ProcessorState } from "../../core/song/song";
import { Legend, Plot } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { levelSeries } from "./levels";

export const gateSpec = (name: string): NumberParam => processorType("gate").params[name] as NumberParam;
export const within = (s: Pick<NumberParam, "min" | "max">, v: number): number =>
  Math.min(s.max, Math.max(s.min, v));
const half = (v: number): number => Math.round(2 * v) / 2;

/** Levels of main strokes, ghost notes and bleed on one axis, with what opens and closes the gate drawn through. */
export function LevelPicture({ mic, gate, levels }: { mic: Mic; gate: ProcessorState; levels: Levels }) {
  const set = useParams(mic, gate);
  const color = mic.piece.replace(/\d/, "");
  const distribution = useMemo(() => levelSeries(levels, color), [levels, color]);
  const most = Math.max(4, ...distribution.flatMap((s) => s.points.map((p) => p[1])));
  const threshold = gate.params["threshold"] as number;
  return (
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
            drag: (v, done) => set({ threshold: within(gateSpec("threshold"), half(v)) }, done),
          },
          {
            id: "hysteresis",
            axis: "x",
            value: Math.max(-70, threshold - (gate.params["hysteresis"] as number)),
            label: "closes",
            dashed: true,
            drag: (v, done) => set({ hysteresis: within(gateSpec("hysteresis"), half(threshold - v)) }, done),
          },
        ]}
      />
    </div>
  );
}
