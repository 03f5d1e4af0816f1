"use client";
import { useMemo } from "react";
import { processorType } from "../../core/processors";
import { chainBefore, envelopeTimesMs, type StrokeEffect } from "../../core/shape/hitReductions";
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

interface Props {
  readonly mic: Mic;
  readonly gate: ProcessorState;
  readonly dynamicEq: ProcessorState;
  readonly judged: JudgedCleaning | null;
}

/** The average stroke before and after gate or EQ, measured here at once; or after cancelling, as the server judged it. */
function usePass({ mic, gate, dynamicEq, judged }: Props, mains: readonly number[]) {
  const song = useSong((s) => s.song!);
  const first = gate.on || !dynamicEq.on ? gate : dynamicEq;
  const color = mic.piece.replace(/\d/, "");
  // Cancelling needs all mics.
  const { input, key } = recordedInput(song, mic);
  const before = chainBefore(mic.chain, first.id).filter((p) => p.type !== "cancel");
  const effect = useEvidence("effect", JSON.stringify([key, before, first]), {
    input: { ...input, chain: before },
    processor: first,
    mains,
    ring: null,
  });
  const { value, busy } = effect;
  const cleaned = processorOf(mic, "cancel").on ? (judged?.envelopes ?? null) : null;
  const series = useMemo((): Series[] => {
    const after = cleaned?.after ?? value?.envelopeAfter;
    const before = cleaned?.before ?? value?.envelopeBefore;
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
  }, [value, cleaned, color, first.type, first.on]);
  const note = cleaned || !value ? (busy ? "measuring …" : "") : gainTold(value);
  return { value, series, note };
}

/** What a pass gains between the strokes and leaves of their peaks. */
function gainTold({ betweenBefore, betweenAfter, peakBefore, peakAfter }: StrokeEffect): string {
  const kept = medianOr(peakAfter, 0) - medianOr(peakBefore, 0);
  return `between strokes ${signed(betweenAfter - betweenBefore, 1)} dB, peaks ${signed(kept, 1)} dB`;
}

/** Hold, release and range of a gate as lines that are dragged; `between`: what is between the strokes, dBFS. */
function gateMarks(
  gate: ProcessorState,
  between: number | undefined,
  set: (values: ProcessorState["params"], done: boolean) => void,
): Mark[] {
  const { hold, release, range } = gate.params as Record<"hold" | "release" | "range", number>;
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
  ];
  if (between !== undefined)
    marks.push({
      id: "range",
      axis: "y",
      value: Math.max(-90, between - range),
      label: `closed −${range.toFixed(0)} dB`,
      dashed: true,
      drag: (v, done) => set({ range: within(gateSpec("range"), Math.round(between - v)) }, done),
    });
  return marks;
}

/** The average stroke before and after its cleaning, with hold, release and range of the gate to be dragged. */
export function PassPicture(props: Props) {
  const { mic, gate } = props;
  const song = useSong((s) => s.song!);
  const set = useParams(mic, gate);
  const { mains } = useMemo(() => strokesIn(song, mic), [song, mic]);
  const { value, series, note } = usePass(props, mains);
  const dragged = gate.on || !processorOf(mic, "cancel").on;
  return (
    <div>
      <Legend series={series} note={note} />
      <Plot
        caption={`Average stroke of ${mic.file} before and after`}
        series={series}
        x={{ label: `Time from the stroke, ms, over ${mains.length} strokes`, min: -10, max: latest }}
        y={{ label: "Level, dBFS", min: -90, max: 0 }}
        marks={dragged ? gateMarks(gate, value?.betweenBefore, set) : []}
      />
    </div>
  );
}
