"use client";
import { useMemo, useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import type { PictureOf, ProcessorType } from "../../core/processor";
import { compressedLevel } from "../../core/processors/compressor/compressor";
import type { StrokeEffect } from "../../core/shape/hitReductions";
import { harmonicsAdded, toldHarmonics } from "../../core/shape/harmonicsAdded";
import { lateIn } from "../../core/shape/heardDrums";
import { isMic, nameOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { hear } from "../shared/hear";
import { medianOr } from "../shared/medianOr";
import { Legend, Plot, type AxisSpec, type Mark, type Series } from "../shared/Plot";
import { colorOf, useTone } from "../shared/owners";
import { useSong } from "../shared/songStore";
import { touchedFrom } from "./strokeWords";

/** Ways to look at what happens to every stroke. */
const views = {
  spread: "Spread",
  inOut: "In and out",
  along: "Along the song",
  harmonics: "Harmonics",
} as const;
type View = keyof typeof views;

export interface PerStrokeProps {
  readonly owner: Owner;
  readonly state: ProcessorState;
  readonly type: ProcessorType;
  readonly picture: Extract<PictureOf, { over: "strokes" }>;
  readonly value: StrokeEffect | null;
  /** Main strokes that there are. */
  readonly mains: number;
  /** The level of the processor as a line that is dragged. */
  readonly grip: ((axis: "x" | "y") => Mark) | null;
  /** The reduction in the middle as a line that is dragged; null: it cannot be. */
  readonly wish: {
    /** Where it is held while it is dragged. */
    readonly now: number | null;
    readonly drag: (reduction: number, done: boolean) => void;
  } | null;
}

/** "27 of 62 main strokes: a stretch behind Cancel". */
const measuredOver = (count: number, all: number, owner: Owner): string =>
  count === all
    ? `${all} main strokes`
    : `${count} of ${all} main strokes: a stretch ${isMic(owner) ? "behind Cancel" : "of what comes into the bus"}`;

interface Picture {
  readonly caption: string;
  readonly series: readonly Series[];
  readonly x: AxisSpec;
  readonly y: AxisSpec;
  readonly marks: readonly Mark[];
  /** Its points are strokes that can be heard. */
  readonly points: boolean;
}

function histogram(values: readonly number[], step: number, from: number, count: number): [number, number][] {
  return Array.from({ length: count }, (_, i) => {
    const middle = from + i * step;
    return [middle, values.filter((v) => v >= middle - step / 2 && v < middle + step / 2).length];
  });
}

const vertical = (id: string, value: number, label: string): Mark => ({
  id,
  axis: "x",
  value,
  label,
  color: "ink-soft",
  dashed: true,
});

type SpreadProps = Pick<PerStrokeProps, "owner" | "picture" | "value" | "grip" | "wish">;

/** Axis of a picture of counts. */
const countAxis = (series: readonly Series[]): AxisSpec => {
  const tallest = Math.max(4, ...series.flatMap((s) => s.points.map((p) => p[1])));
  return { label: "Strokes", min: 0, max: Math.ceil(tallest * 1.1) };
};

/** How many strokes get how much, with what is usual and what is wished. */
function reductionsOf({ owner, picture, value, wish }: SpreadProps, color: string): Picture {
  const points = value ? histogram(value.reductionDb, 0.5, 0, 41) : null;
  const look = { color, fill: true, width: 2.25 } as const;
  const series: Series[] = points ? [{ ...look, label: "gain reduction of every stroke", points }] : [];
  // What is usual on a mic says nothing of a whole bus.
  const usual = (isMic(owner) ? (picture.usual ?? []) : []).map((w, i) =>
    vertical(`w${w}`, w, i === 0 ? "usual from" : "to"),
  );
  const middle = value && wish ? (wish.now ?? medianOr(value.reductionDb, 0)) : null;
  const marks = [...usual];
  if (middle !== null)
    marks.push({
      id: "wish",
      axis: "x",
      value: middle,
      label: `half of them ${middle.toFixed(1)} dB: drag`,
      drag: wish!.drag,
    });
  return {
    caption: `Gain reduction per stroke of ${nameOf(owner)}`,
    series,
    x: { label: "Gain reduction, dB", min: 0, max: 20 },
    y: countAxis(series),
    marks,
    points: false,
  };
}

/** How many strokes have which peak before and after. */
function peaksOf({ owner, value, grip }: SpreadProps, color: string): Picture {
  const peaks = (list: readonly number[]) => histogram(list, 1, -36, 43);
  const series: Series[] = value
    ? [
        { label: "peaks before", color: "ink-soft", dashed: true, points: peaks(value.peakBefore) },
        { label: "peaks after", color, fill: true, width: 2.25, points: peaks(value.peakAfter) },
      ]
    : [];
  return {
    caption: `Peaks of the strokes of ${nameOf(owner)} before and after`,
    series,
    x: { label: "Peak level of the stroke, dBFS", min: -36, max: 6 },
    y: countAxis(series),
    marks: [vertical("fullScale", 0, "full scale"), ...(grip ? [grip("x")] : [])],
    points: false,
  };
}

/** How many strokes get how much, or have which peak before and after. */
const spreadOf = (props: PerStrokeProps, color: string): Picture =>
  props.picture.shows === "reductions" ? reductionsOf(props, color) : peaksOf(props, color);

/** Peak of every stroke as it comes in against that which goes out, over the static curve where there is one. */
function inOutOf({ owner, state, value, grip }: PerStrokeProps, color: string): Picture {
  const v = (name: string) => state.params[name] as number;
  const levels = Array.from({ length: 67 }, (_, i) => i - 60);
  const series: Series[] = [
    { label: "unchanged", color: "ink-soft", dashed: true, points: levels.map((x) => [x, x]) },
    ...(state.type === "compressor"
      ? [
          {
            label: "static curve",
            color: "accent",
            width: 2,
            points: levels.map((x): [number, number] => [
              x,
              compressedLevel(x, v("threshold"), v("ratio"), v("knee")) + v("makeup"),
            ]),
          },
        ]
      : []),
    ...(value
      ? [
          {
            label: "every stroke: click to hear",
            color,
            kind: "points" as const,
            points: value.peakBefore.map((x, i): [number, number] => [x, value.peakAfter[i]!]),
          },
        ]
      : []),
  ];
  return {
    caption: `Peak of every stroke of ${nameOf(owner)} as it comes in and as it goes out`,
    series,
    x: { label: "Peak in, dBFS", min: -48, max: 6 },
    y: { label: "Peak out, dBFS", min: -48, max: 6 },
    marks: grip ? [grip("x")] : [],
    points: true,
  };
}

/** What happens to each stroke at its place in the song. */
function alongOf(
  { owner, type, value }: PerStrokeProps,
  color: string,
  song: { sampleRate: number; frames: number },
): Picture {
  const change = !value
    ? []
    : type.meters
      ? value.reductionDb.map((r) => -r)
      : value.peakAfter.map((p, i) => p - value.peakBefore[i]!);
  const at = (i: number): [number, number] => [value!.strokes[i]! / song.sampleRate, change[i]!];
  const all = change.map((_, i) => i);
  const near = Math.max(2, ...change.map((c) => Math.abs(c))) * 1.15;
  const lifted = change.some((c) => c > touchedFrom);
  return {
    caption: `What happens to each stroke of ${nameOf(owner)} along the song`,
    series: [{ label: "every stroke: click to hear", color, kind: "points", points: all.map(at) }],
    x: { label: "Time in the recording, s", min: 0, max: Math.ceil(song.frames / song.sampleRate) },
    y: {
      label: type.meters ? "Reduction, dB" : "Change of the peak, dB",
      min: -near,
      max: lifted ? near : 0.5,
    },
    marks: [],
    points: true,
  };
}

/** Harmonics of a tone at the drum's fundamental and at the level of its strokes. */
function harmonicsOf(
  { owner, state, value }: PerStrokeProps,
  color: string,
  fundamental: number,
  sampleRate: number,
): Picture {
  const level = value ? medianOr(value.peakBefore, -12) : -12;
  const added = harmonicsAdded(state, fundamental, level, sampleRate);
  return {
    caption: `Harmonics that are added to a tone of ${fundamental.toFixed(0)} Hz at ${level.toFixed(1)} dBFS`,
    series: [
      {
        label: `added to ${fundamental.toFixed(0)} Hz at ${level.toFixed(1)} dBFS, as half of the strokes have`,
        color,
        kind: "bars",
        base: -90,
        points: toldHarmonics.map((n, i): [number, number] => [n, Math.max(-90, added[i]!)]),
      },
    ],
    x: {
      label: `Harmonic of ${owner.piece === "snare" ? "the drum's tone" : "the fundamental"}`,
      min: 1.5,
      max: 9.5,
      ticks: toldHarmonics,
    },
    y: { label: "Against the tone, dB", min: -90, max: 0 },
    marks: [],
    points: false,
  };
}

/** What a processor does to every stroke, looked at in one of several ways. */
export function PerStroke(props: PerStrokeProps) {
  const { owner, state, type, value, mains } = props;
  const { sampleRate, frames } = useSong((s) => s.song!);
  const tone = useTone(owner);
  const [chosen, choose] = useState<View>("spread");
  const offered: View[] = [
    "spread",
    "inOut",
    "along",
    ...(type.purpose === "colour" && tone ? ["harmonics" as const] : []),
  ];
  const view = offered.includes(chosen) ? chosen : "spread";
  const color = colorOf(owner);
  const fundamental = tone?.fundamental ?? 100;
  const shown = useMemo((): Picture => {
    if (view === "inOut") return inOutOf(props, color);
    if (view === "along") return alongOf(props, color, { sampleRate, frames });
    if (view === "harmonics") return harmonicsOf(props, color, fundamental, sampleRate);
    return spreadOf(props, color);
    // The processor and what was measured of it stand for the rest.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view, state, value, props.wish?.now, color, sampleRate, frames, fundamental]);
  const hearStroke = (series: number, index: number) => {
    if (shown.series[series]?.kind === "points" && value)
      hear((value.strokes[index]! - lateIn(owner)) / sampleRate, 0.05, 0.6);
  };
  return (
    <>
      <div className="picture-head">
        <Legend series={shown.series} note={value ? measuredOver(value.strokes.length, mains, owner) : ""} />
        <ButtonGroup size="sm" aria-label="Every stroke by">
          {offered.map((one) => (
            <Button
              key={one}
              variant="outline-primary"
              active={view === one}
              aria-pressed={view === one}
              onClick={() => choose(one)}
            >
              {views[one]}
            </Button>
          ))}
        </ButtonGroup>
      </div>
      <div className="half">
        <Plot
          caption={shown.caption}
          series={shown.series}
          x={shown.x}
          y={shown.y}
          marks={shown.marks}
          {...(shown.points ? { onPoint: hearStroke } : {})}
        />
      </div>
    </>
  );
}
