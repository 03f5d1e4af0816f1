import type { PointerEvent } from "react";
import { isMic, nameOf } from "../../../core/song/graph";
import { shortName } from "../../shared/format";
import { colourOf } from "../mixOrder";
import { boxHeight, row, type Box } from "./layOut";

interface Props {
  readonly box: Box;
  readonly width: number;
  /** "chosen", "target" … */
  readonly state: string;
  /** The bar that shows a mic's peak. */
  readonly bar: (element: SVGRectElement | null) => void;
  readonly begin: (event: PointerEvent) => void;
}

/** A mic or bus by name; a bus with how many processors work in it, a mic with its peak. */
export function GraphBox({ box: { owner, x, y }, width, state, bar, begin }: Props) {
  const mic = isMic(owner);
  const working = owner.chain.filter((p) => p.on).length;
  const letters = Math.floor((width - (mic ? 14 : 26)) / 6.3);
  return (
    <g
      transform={`translate(${x},${y})`}
      className={`box ${state} ${owner.muted ? "muted" : ""}`}
      onPointerDown={begin}
    >
      <rect y={(row - boxHeight) / 2} width={width} height={boxHeight} rx={3} />
      {mic && <rect className="peak" ref={bar} y={(row + boxHeight) / 2 - 3} width={width} height={3} />}
      <rect
        y={(row - boxHeight) / 2}
        width={4}
        height={boxHeight}
        style={{ fill: colourOf(owner) }}
        className="piece"
      />
      <text x={10} y={row / 2 + 4}>
        {shortName(nameOf(owner)).slice(0, letters)}
      </text>
      {!mic && working > 0 && (
        <text x={width - 6} y={row / 2 + 4} className="count">
          {working}
        </text>
      )}
    </g>
  );
}
