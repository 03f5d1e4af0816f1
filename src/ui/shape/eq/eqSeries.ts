import type { HitSpectra } from "../../../core/clean/spectra";
import type { Tone } from "../../../core/facts/facts";
import { curveFrequencies } from "../../../core/measure/spectrum";
import { designEq } from "../../../core/processors/eq/eq";
import { ringTold } from "../../../core/shape/findTone";
import type { Partial } from "../../../core/shape/partials";
import { phaseDegrees, responseDb } from "../../../core/signal/biquad";
import type { ProcessorState } from "../../../core/song/song";
import type { Mark, Series } from "../../shared/Plot";
import { frequencyOf } from "./bands";
import { overtones } from "./PartialsRow";

/** Parts of a stroke whose spectrum may be drawn. */
export const strokeParts = {
  atHits: "Strokes",
  stick: "First 10 ms",
  tail: "Tail",
  atGhosts: "Ghost notes",
} as const;
export type StrokePart = keyof typeof strokeParts;

const frequencies = Array.from(curveFrequencies);

function partName(part: StrokePart, many: number): string {
  if (part === "atHits") return `${many} strokes`;
  return part === "atGhosts"
    ? `${many} ghost notes`
    : `${strokeParts[part].toLowerCase()} of ${many} strokes`;
}

/** The response of an EQ over the spectrum of the strokes and of what lies between; the response alone where there are none. */
export function eqSeries(
  state: ProcessorState,
  sampleRate: number,
  spectra: HitSpectra | null,
  part: StrokePart,
  color: string,
): Series[] {
  const sections = designEq(state.params, sampleRate);
  const eq = frequencies.map((x) => responseDb(sections, x, sampleRate));
  const response: Series = {
    label: state.on ? "EQ" : "EQ (off)",
    color: "accent",
    width: 2.75,
    dashed: !state.on,
    points: frequencies.map((x, i) => [x, eq[i]!]),
  };
  if (!spectra || spectra.strokes === 0) return [response];
  const { levels } = spectra[part];
  const top = Math.max(...levels);
  const line = (of: (i: number) => number) =>
    frequencies.map((x, i): [number, number] => [x, of(i) - top - 6]);
  const many = part === "atGhosts" ? spectra.ghosts : spectra.strokes;
  const thin = { width: 1.25, dashed: true };
  const between = spectra.between.levels;
  return [
    { label: partName(part, many), color, width: 2, fill: true, points: line((i) => levels[i]!) },
    { label: "between strokes", color: "ink-soft", ...thin, points: line((i) => between[i]!) },
    { label: "the same after EQ", color, ...thin, points: line((i) => levels[i]! + eq[i]!) },
    response,
  ];
}

/** The phase of an EQ, degrees. */
export function phaseSeries(state: ProcessorState, sampleRate: number): Series[] {
  const sections = designEq(state.params, sampleRate);
  const points = frequencies.map((x): [number, number] => [x, phaseDegrees(sections, x, sampleRate)]);
  return [{ label: "phase", color: "accent", width: 2, points }];
}

/** Where the drum sounds and rings, and the high-pass, which is dragged by `move`. */
export function eqMarks(
  { params }: ProcessorState,
  tone: Tone | undefined,
  partials: readonly Partial[] | null,
  move: (frequency: number, done: boolean) => void,
): Mark[] {
  const found = { axis: "x" as const, color: "ink-soft", dashed: true };
  const marks: Mark[] = [];
  if (tone) {
    const { fundamental, ring, ringDb } = tone;
    const sounds = `fundamental ${fundamental.toFixed(0)} Hz`;
    marks.push({ ...found, id: "fundamental", value: fundamental, label: sounds });
    const rings = `rings at ${ring.toFixed(0)} Hz, ${ringDb.toFixed(0)} dB out`;
    if (ringDb >= ringTold) marks.push({ ...found, id: "ring", value: ring, label: rings, color: "hat" });
  }
  for (const { frequency, ratio } of overtones(partials, tone))
    marks.push({ ...found, id: `partial ${ratio}`, value: frequency, label: "" });
  const corner = params["highPassFrequency"] as number;
  if (params["highPassSlope"] !== "off")
    marks.push({
      id: "highPass",
      axis: "x",
      value: Math.max(30, corner),
      label: `high-pass ${corner.toFixed(0)} Hz`,
      drag: (x, done) => move(frequencyOf(x), done),
    });
  return marks;
}
