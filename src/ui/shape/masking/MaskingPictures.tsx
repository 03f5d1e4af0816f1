"use client";
import { useMemo } from "react";
import type { MaskingJudged } from "../../../contract";
import { changesOf, type MirroredMove } from "../../../core/masking/moves";
import { nameOf, type Owner } from "../../../core/song/graph";
import { hear } from "../../shared/hear";
import { frequencyAxis, Legend, Plot, type Mark } from "../../shared/Plot";
import { useSong } from "../../shared/songStore";
import { excitationSeries, keptAlong, meanOf, neededAlong, pairOf } from "./maskingSeries";
import { moveSpecs } from "./MirroredMoves";

/** dB of the picture below its top. */
const shownDb = 54;

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
  const pair = useMemo(() => pairOf(of, by), [of, by]);
  const change = useMemo(() => changesOf(move, sampleRate), [move, sampleRate]);
  const means = useMemo(() => ({ of: meanOf(heard, "of"), by: meanOf(heard, "by") }), [heard]);
  const moves = way === "move" && (move.cut !== 0 || move.lift !== 0);
  const over = useMemo(
    () => excitationSeries(pair, means, moves ? change : null),
    [pair, means, moves, change],
  );
  const top = 6 * Math.ceil(Math.max(...means.of, ...means.by) / 6) + 3;
  const along = useMemo(
    () => (way === "key" ? neededAlong(pair, heard, wanted) : keptAlong(pair, heard, change)),
    [way, pair, heard, wanted, change],
  );
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
          onPoint={(_, index) => hear(heard[index]!.time, 0.05, 0.6)}
        />
      </div>
    </>
  );
}
