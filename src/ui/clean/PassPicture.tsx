"use client";
import { useMemo } from "react";
import { processorType } from "../../core/processors";
import { chainBefore, envelopeTimesMs } from "../../core/shape/hitReductions";
import { processorOf } from "../../core/song/create";
import type { Mic, ProcessorState } from "../../core/song/song";
import type { JudgedCleaning } from "../../contract";
import { recordedInput } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { medianOr } from "../shared/medianOr";
import { Legend, Plot, type Mark, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";
import { gateSpec, within } from "./LevelPicture";

/** Latest moment that is drawn, ms after the stroke. */
const latest = 200;

/** The average stroke before and after its cleaning, with hold, release and range of the gate to be dragged. */
export function PassPicture({
  mic,
  gate,
  dynamicEq,
  judged,
}: {
  mic: Mic;
  gate: ProcessorState;
  dynamicEq: ProcessorState;
  judged: JudgedCleaning | null;
}) {
  const song = useSong((s) => s.song!);
  const cancel = processorOf(mic, "cancel");
  const set = useParams(mic, gate);
  const strokes = useMemo(() => strokesIn(song, mic), [song, mic]);
  const first = gate.on || !dynamicEq.on ? gate : dynamicEq;
  const color = mic.piece.replace(/\d/, "");
  // What gate and EQ do is measured here at once; cancelling needs all mics, and the server.
  const { input, key } = recordedInput(song, mic);
  const before = chainBefore(mic.chain, first.id).filter((p) => p.type !== "cancel");
  const effect = useEvidence("effect", JSON.stringify([key, before, first]), {
    input: { ...input, chain: before },
    processor: first,
    mains: strokes.mains,
    ring: null,
  });
  const cleaned = cancel.on ? (judged?.envelopes ?? null) : null;
  const envelope = useMemo((): Series[] => {
    const after = cleaned?.after ?? effect.value?.envelopeAfter;
    const before = cleaned?.before ?? effect.value?.envelopeBefore;
    if (!after || !before) return [];
    const points = (list: readonly number[]) =>
      envelopeTimesMs.map((t, i): [number, number] => [t, list[i]!]);
    const name = cleaned
      ? "after cleaning"
      : `after ${processorType(first.type).label}${first.on ? "" : ", if it were on"}`;
    return [
      { label: "before", color: "ink-soft", dashed: true, points: points(before) },
      { label: name, color, width: 2.5, points: points(after) },
    ];
  }, [effect.value, cleaned, color, first.type, first.on]);
  const { value } = effect;
  const gained = value ? value.betweenAfter - value.betweenBefore : 0;
  const kept = value ? medianOr(value.peakAfter, 0) - medianOr(value.peakBefore, 0) : 0;
  const note =
    cleaned || !value
      ? effect.busy
        ? "measuring …"
        : ""
      : `between strokes ${signed(gained, 1)} dB, peaks ${signed(kept, 1)} dB`;

  const hold = gate.params["hold"] as number;
  const release = gate.params["release"] as number;
  const range = gate.params["range"] as number;
  const marks: Mark[] = [
    {
      id: "hold",
      axis: "x",
      value: Math.min(latest, 1000 * hold),
      label: `hold ${(1000 * hold).toFixed(0)} ms`,
      drag: (v, done) => set({ hold: within(gateSpec("hold"), Math.max(0, Math.round(v)) / 1000) }, done),
    },
    {
      id: "release",
      axis: "x",
      value: Math.min(latest, 1000 * (hold + release)),
      label: `release ${(1000 * release).toFixed(0)} ms`,
      dashed: true,
      drag: (v, done) => set({ release: within(gateSpec("release"), Math.round(v) / 1000 - hold) }, done),
    },
    ...(value
      ? [
          {
            id: "range",
            axis: "y" as const,
            value: Math.max(-90, value.betweenBefore - range),
            label: `closed −${range.toFixed(0)} dB`,
            dashed: true,
            drag: (v: number, done: boolean) =>
              set({ range: within(gateSpec("range"), Math.round(value.betweenBefore - v)) }, done),
          },
        ]
      : []),
  ];
  return (
    <div>
      <Legend series={envelope} note={note} />
      <Plot
        caption={`Average stroke of ${mic.file} before and after`}
        series={envelope}
        x={{ label: `Time from the stroke, ms, over ${strokes.mains.length} strokes`, min: -10, max: latest }}
        y={{ label: "Level, dBFS", min: -90, max: 0 }}
        marks={gate.on || !cancel.on ? marks : []}
      />
    </div>
  );
}
