import { useMemo } from "react";
import { gridParts } from "../../../core/grid/lines";
import type { Song, Tempo, TightenSettings } from "../../../core/song/song";
import { playback } from "../../shared/playback";
import { Legend, Plot, type Series } from "../../shared/Plot";
import type { MovePanelProps } from "./movePanel";
import { distribution } from "./offsetSeries";

interface Props {
  readonly song: Song;
  readonly tempo: Tempo;
  readonly settings: TightenSettings;
  /** How many are shown. */
  readonly strokes: number;
  /** Offsets from the grid (offsetSeries). */
  readonly series: readonly Series[];
  readonly store: MovePanelProps["store"];
}

/** How early or late a stroke is heard before it, s. */
const heardBefore = 0.3;

/** Offsets of the strokes over the song and how they are spread; what stays as it is, is dragged. */
export function OffsetPlots({ song, tempo, settings, strokes, series, store }: Props) {
  const spread = useMemo(() => distribution(series), [series]);
  const ofPoints = (list: readonly Series[], of: (y: number) => number) =>
    Math.max(10, ...list.flatMap((s) => s.points.map((p) => of(p[1]))));
  const halfPart = (500 * 60) / tempo.bpm / gridParts(settings.grid, tempo.compound);
  const reach = Math.min(Math.ceil(halfPart / 5) * 5, Math.ceil((1.15 * ofPoints(series, Math.abs)) / 5) * 5);
  const most = Math.ceil(ofPoints(spread, (y) => y) * 1.1);
  const window = 1000 * settings.window;
  const leave = (v: number) => Math.min(0.05, Math.max(0, Math.round(Math.abs(v) * 10) / 10000));
  return (
    <>
      <Legend series={series} note="click a stroke to hear it" />
      <div className="row-plots scatter">
        <Plot
          caption={`Offset of ${strokes} strokes from the grid over the song`}
          series={series}
          x={{ label: "Time, s", min: 0, max: Math.ceil(song.frames / song.sampleRate) }}
          y={{ label: "early     Offset, ms     late", min: -reach, max: reach }}
          marks={[
            { id: "grid", axis: "y", value: 0, label: "", color: "ink-soft", dashed: true },
            {
              id: "window",
              axis: "y",
              value: window,
              label: `stays within ${window.toFixed(1)} ms`,
              drag: (v, done) => store({ window: leave(v) }, done),
            },
          ]}
          onPoint={(s, i) =>
            playback.seek(Math.max(0, series[s]!.points[i]![0] - heardBefore) * song.sampleRate)
          }
        />
        <Plot
          caption="Distribution of the offsets before and after"
          series={spread}
          x={{ label: "Offset, ms", min: -reach, max: reach }}
          y={{ label: "Strokes, %", min: 0, max: most }}
        />
      </div>
    </>
  );
}
