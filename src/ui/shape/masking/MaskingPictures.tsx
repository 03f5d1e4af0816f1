"use client";
import { useMemo } from "react";
import type { MaskingJudged } from "../../../contract";
import { bandCentres } from "../../../core/masking/excitation";
import { keptAt, type Heard } from "../../../core/masking/masking";
import { changesOf, depthNeeded, mostDepth, type MirroredMove } from "../../../core/masking/moves";
import { nameOf, type Owner } from "../../../core/song/graph";
import { hear } from "../../shared/hear";
import { shortName } from "../../shared/format";
import { frequencyAxis, Legend, Plot, type AxisSpec, type Mark, type Series } from "../../shared/Plot";
import { colorOf } from "../../shared/owners";
import { useSong } from "../../shared/songStore";
import { moveSpecs } from "./MirroredMoves";

/** dB of the picture below its top. */
const shownDb = 54;

/** Mean of the excitation over strokes by band, as power, dB. */
const meanOf = (heard: readonly Heard[], side: "of" | "by"): number[] =>
  bandCentres.map((_, b) => {
    const sum = heard.reduce((power, h) => power + 10 ** (h[side][b]! / 10), 0);
    return 10 * Math.log10(sum / heard.length);
  });

interface Props {
  readonly of: Owner;
  readonly by: Owner;
  readonly value: MaskingJudged;
  readonly way: "move" | "key";
  readonly move: MirroredMove;
  readonly setMove: (move: MirroredMove) => void;
  readonly wanted: number;
}

/** Excitation of both by frequency, and what every stroke keeps, or needs, along the song. */
export function MaskingPictures({ of, by, value, way, move, setMove, wanted }: Props) {
  const { sampleRate, frames } = useSong((s) => s.song!);
  const { heard } = value;
  const [own, other] = [shortName(nameOf(of)), shortName(nameOf(by))];
  const color = colorOf(of);
  const change = useMemo(() => changesOf(move, sampleRate), [move, sampleRate]);
  const means = useMemo(() => ({ of: meanOf(heard, "of"), by: meanOf(heard, "by") }), [heard]);
  const over = useMemo((): Series[] => {
    const curve = (levels: readonly number[]) => bandCentres.map((f, b): [number, number] => [f, levels[b]!]);
    const moved = way === "move" && (move.cut !== 0 || move.lift !== 0);
    return [
      { label: own, color, fill: true, width: 2.5, points: curve(means.of) },
      {
        label: other,
        color: colorOf(by) === color ? "ink" : colorOf(by),
        width: 2.5,
        points: curve(means.by),
      },
      ...(moved
        ? [
            {
              label: `${own} after the move`,
              color,
              dashed: true,
              width: 1.5,
              points: curve(means.of.map((db, b) => db + change.of(b))),
            },
            {
              label: `${other} after it`,
              color: colorOf(by) === color ? "ink" : colorOf(by),
              dashed: true,
              width: 1.5,
              points: curve(means.by.map((db, b) => db + change.by(b))),
            },
          ]
        : []),
    ];
  }, [means, change, move, way, own, other, color, by]);
  const top = 6 * Math.ceil(Math.max(...means.of, ...means.by) / 6) + 3;
  const along = useMemo((): { series: Series[]; y: AxisSpec; marks: Mark[] } => {
    const points = (figure: (h: Heard) => number) => heard.map((h): [number, number] => [h.time, figure(h)]);
    if (way === "key")
      return {
        series: [
          {
            label: "needed at every stroke: click to hear",
            color,
            kind: "points",
            points: points((h) => depthNeeded(h, wanted)),
          },
        ],
        y: { label: `${other} down by, dB`, min: -0.6, max: mostDepth + 1, ticks: [0, 4, 8, 12, 16] },
        marks: [],
      };
    return {
      series: [
        {
          label: "kept now: click to hear",
          color: "ink-soft",
          kind: "points",
          radius: 2.5,
          points: points((h) => 100 * keptAt(h).whole),
        },
        {
          label: "kept after the move",
          color,
          kind: "points",
          points: points((h) => 100 * keptAt(h, change).whole),
        },
      ],
      y: { label: `${own} keeps, %`, min: 0, max: 100 },
      marks: [],
    };
  }, [heard, way, wanted, change, color, own, other]);
  const grip: Mark = {
    id: "frequency",
    axis: "x",
    value: move.frequency,
    label: "cut here, lift there: drag",
    drag: (f) => {
      const { min, max } = moveSpecs.frequency;
      setMove({ ...move, frequency: Number(Math.min(max, Math.max(min, f)).toPrecision(3)) });
    },
  };
  return (
    <>
      <Legend series={over} note="excitation in bandwidths of hearing, mean over the strokes" />
      <div className="half">
        <Plot
          caption={`Excitation by ${nameOf(of)} and ${nameOf(by)} over frequency`}
          series={over}
          x={frequencyAxis}
          y={{ label: "Excitation, dB", min: top - shownDb, max: top }}
          marks={way === "move" ? [grip] : []}
        />
      </div>
      <Legend series={along.series} note={`${heard.length} ${value.strokes ? "strokes" : "moments"}`} />
      <div className="half">
        <Plot
          caption={`What ${nameOf(of)} keeps, or needs, along the song`}
          series={along.series}
          x={{ label: "Time in the recording, s", min: 0, max: Math.ceil(frames / sampleRate) }}
          y={along.y}
          marks={along.marks}
          onPoint={(_, index) => hear(heard[index]!.time, 0.05, 0.6)}
        />
      </div>
    </>
  );
}
