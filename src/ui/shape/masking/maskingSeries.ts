import { bandCentres } from "../../../core/masking/excitation";
import { keptAt, type Changes, type Heard } from "../../../core/masking/masking";
import { depthNeeded, mostDepth } from "../../../core/masking/moves";
import { nameOf, type Owner } from "../../../core/song/graph";
import { shortName } from "../../shared/format";
import { colorOf } from "../../shared/owners";
import type { AxisSpec, Series } from "../../shared/Plot";

/** Mean of the excitation over strokes by band, as power, dB. */
export const meanOf = (heard: readonly Heard[], side: "of" | "by"): number[] =>
  bandCentres.map((_, b) => {
    const sum = heard.reduce((power, h) => power + 10 ** (h[side][b]! / 10), 0);
    return 10 * Math.log10(sum / heard.length);
  });

/** Two sounds, one beside the other, by what they are called and drawn with. */
export interface Pair {
  readonly own: string;
  readonly other: string;
  readonly color: string;
  readonly otherColor: string;
}
export function pairOf(of: Owner, by: Owner): Pair {
  const color = colorOf(of);
  const otherColor = colorOf(by) === color ? "ink" : colorOf(by);
  return { own: shortName(nameOf(of)), other: shortName(nameOf(by)), color, otherColor };
}

/** Both by frequency, and as the move makes them; `change` null: there is no move. */
export function excitationSeries(
  { own, other, color, otherColor }: Pair,
  means: Readonly<Record<"of" | "by", readonly number[]>>,
  change: Changes | null,
): Series[] {
  const curve = (levels: readonly number[]) => bandCentres.map((f, b): [number, number] => [f, levels[b]!]);
  const moved = (levels: readonly number[], by: (band: number) => number) =>
    curve(levels.map((db, b) => db + by(b)));
  return [
    { label: own, color, fill: true, width: 2.5, points: curve(means.of) },
    { label: other, color: otherColor, width: 2.5, points: curve(means.by) },
    ...(change
      ? [
          {
            label: `${own} after the move`,
            color,
            dashed: true,
            width: 1.5,
            points: moved(means.of, change.of),
          },
          {
            label: `${other} after it`,
            color: otherColor,
            dashed: true,
            width: 1.5,
            points: moved(means.by, change.by),
          },
        ]
      : []),
  ];
}

/** A picture along the song. */
interface Along {
  readonly series: Series[];
  readonly y: AxisSpec;
}
const pointsOf = (heard: readonly Heard[], figure: (h: Heard) => number): [number, number][] =>
  heard.map((h) => [h.time, figure(h)]);

/** By how much the other would have to go down at every stroke so that the wanted share is kept. */
export const neededAlong = ({ other, color }: Pair, heard: readonly Heard[], wanted: number): Along => ({
  series: [
    {
      label: "needed at every stroke: click to hear",
      color,
      kind: "points",
      points: pointsOf(heard, (h) => depthNeeded(h, wanted)),
    },
  ],
  y: { label: `${other} down by, dB`, min: -0.6, max: mostDepth + 1, ticks: [0, 4, 8, 12, 16] },
});

/** What every stroke keeps now, and after the move. */
export const keptAlong = ({ own, color }: Pair, heard: readonly Heard[], change: Changes): Along => ({
  series: [
    {
      label: "kept now: click to hear",
      color: "ink-soft",
      kind: "points",
      radius: 2.5,
      points: pointsOf(heard, (h) => 100 * keptAt(h).whole),
    },
    {
      label: "kept after the move",
      color,
      kind: "points",
      points: pointsOf(heard, (h) => 100 * keptAt(h, change).whole),
    },
  ],
  y: { label: `${own} keeps, %`, min: 0, max: 100 },
});
