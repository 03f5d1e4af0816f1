"use client";
import type { CymbalPlace } from "../../core/clean/stereoPosition";
import { usePlaces } from "../clean/placesStore";
import { pieceNames } from "../../core/song/pieceNames";
import { useSong } from "../shared/songStore";

/** Half the plan's width: hard left to hard right. */
const wide = 104;
/** First row below the pieces, and the distance between rows, in the plan's units. */
const firstRow = 62;
const rowHeight = 15;

/** What the plan must be higher for the rows. */
export const placesHeight = (rows: number): number => (rows > 0 ? firstRow - 50 + rowHeight * rows : 0);

/** Cymbals of the open song that were measured. */
export function useMeasuredPlaces(): readonly CymbalPlace[] {
  const id = useSong((s) => s.id);
  const step = useSong((s) => s.step);
  const { song, places } = usePlaces();
  return song === id && step === "clean" ? places : [];
}

/** Where hat and cymbals sit between left and right, a row each under the pieces, as wide as the plan. */
export function PlanPlaces({ places, turn }: { places: readonly CymbalPlace[]; turn: 1 | -1 }) {
  const x = (p: number) => turn * wide * p;
  return places.map(({ piece, overheads, before, after }, row) => (
    <g
      key={piece}
      className="sits"
      transform={`translate(0 ${firstRow + rowHeight * row})`}
      style={{ "--piece": `var(--${piece})` } as React.CSSProperties}
      aria-label={`${pieceNames[piece]} between left and right`}
    >
      <line x1={-wide} x2={wide} />
      <text
        x={turn * (overheads > 0 ? -wide : wide)}
        y={-2.5}
        textAnchor={turn * overheads > 0 ? "start" : "end"}
      >
        {pieceNames[piece]}
      </text>
      <rect x={x(overheads) - 4} y={-4} width={8} height={8} />
      <circle className="all" cx={x(before)} r={3.4} />
      <circle className="cleaned" cx={x(after)} r={2.6} />
    </g>
  ));
}
