import type { NumberParam, ParamValue } from "../../core/params";
import type { ProcessorType } from "../../core/processor";
import { envelopeTimesMs, type StrokeEffect } from "../../core/shape/hitReductions";
import type { ProcessorState } from "../../core/song/song";
import type { Mark, Series } from "../shared/Plot";

/** Lines of the average stroke's picture that stand for times of the processor, ms. */
export const timeMarks = (state: ProcessorState): Mark[] => {
  const { attack, release } = state.params;
  const at = (id: string, label: string, seconds: unknown): Mark[] =>
    typeof seconds === "number" && 1000 * seconds < envelopeTimesMs[envelopeTimesMs.length - 1]!
      ? [
          {
            id,
            axis: "x",
            value: 1000 * seconds,
            label: `${label} ${(1000 * seconds).toFixed(seconds < 0.01 ? 1 : 0)} ms`,
            color: "ink-soft",
            dashed: true,
          },
        ]
      : [];
  return [...at("attack", "63 % there: attack", attack), ...at("release", "release", release)];
};

/** The average stroke before and after; where loud and soft ones are treated apart, a third of each. */
export function envelopeSeries(value: StrokeEffect, color: string, thirds: boolean): Series[] {
  const curve = (levels: readonly number[]) =>
    envelopeTimesMs.map((t, i): [number, number] => [t, levels[i]!]);
  const before = { color: "ink-soft", dashed: true };
  const { loudThird: loud, softThird: soft } = value;
  if (!thirds)
    return [
      { ...before, label: "before", points: curve(value.envelopeBefore) },
      { label: "after", color, width: 2.5, points: curve(value.envelopeAfter) },
    ];
  return [
    { ...before, label: "loudest third before", points: curve(loud.before) },
    { label: "loudest third after", color, width: 2.5, points: curve(loud.after) },
    { ...before, label: "softest third before", width: 1, points: curve(soft.before) },
    { label: "softest third after", color, width: 1.25, points: curve(soft.after) },
  ];
}

/** Louder or softer than this the strokes are matched, dB. */
const unlike = 0.05;

/** The gain behind it that makes the strokes as loud as they come in; null: they are, or there is none. */
export function matchedGain(
  { output, params }: ProcessorType,
  state: ProcessorState,
  louder: number,
): number | null {
  const spec = output === null ? null : (params[output] as NumberParam);
  if (!spec || !Number.isFinite(louder) || Math.abs(louder) < unlike) return null;
  const gain = (state.params[output!] as number) - louder;
  return Math.min(spec.max, Math.max(spec.min, Math.round(gain * 10) / 10));
}

/** The line by which a level is dragged, in either picture; null where there is none. */
export function levelGrip(
  { params }: ProcessorType,
  state: ProcessorState,
  level: string | null,
  set: (values: Record<string, ParamValue>, done: boolean) => void,
): ((axis: "x" | "y") => Mark) | null {
  if (!level) return null;
  const spec = params[level] as NumberParam;
  const now = state.params[level] as number;
  return (axis) => ({
    id: "level",
    axis,
    value: now,
    label: `${spec.label.toLowerCase()} ${now.toFixed(1).replace("-", "−")} dBFS`,
    drag: (v, done) => set({ [level]: Math.min(spec.max, Math.max(spec.min, Math.round(v * 2) / 2)) }, done),
  });
}
