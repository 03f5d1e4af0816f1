import type { CSSProperties } from "react";
import { pieceNames } from "../../core/song/pieceNames";
import { labelMics, micDrag } from "../gather/labelMics";
import { useSong } from "../shared/songStore";
import type { Glow } from "./glow";
import type { PlannedPiece } from "./layout";
import type { Moving } from "./moving";
import { Outline } from "./Outline";
import { pressed } from "./pressed";

/** Of a barrel only so much of its radius lies above and below its middle. */
const reach = ({ r, shape }: PlannedPiece["spot"]): number => r * (shape === "barrel" ? 0.82 : 1);

/** Mics over a drum and layers under it. */
function Marks({ planned: { mics, layers, spot } }: { planned: PlannedPiece }) {
  const place = (k: number, of: number, apart: number) => (k - (of - 1) / 2) * apart;
  return (
    <>
      {mics.map((m, k) => (
        <path
          key={m.id}
          className="mic"
          d="M-3.2 0L3.2 0L0 5.5Z"
          transform={`translate(${place(k, mics.length, 9)} ${-reach(spot) - 6})`}
        />
      ))}
      {Array.from({ length: layers }, (_, k) => (
        <rect
          key={k}
          className="mic"
          x={place(k, layers, 10) - 4}
          y={reach(spot) + 3}
          width={8}
          height={2.5}
        />
      ))}
    </>
  );
}

/** How many proposals are open, at a drum's shoulder. */
const OpenBadge = ({ r, open }: { r: number; open: number }) => (
  <g transform={`translate(${r * 0.8} ${-r * 0.8})`} className="badge-open" aria-hidden>
    <rect x={-7} y={-7} width={14} height={14} rx={5} />
    <text textAnchor="middle" y={3.8}>
      {open}
    </text>
  </g>
);

function told({ piece, mics, layers }: PlannedPiece, unplayed: boolean, open: number): string {
  const many = (n: number, what: string) => `${n} ${what}${n > 1 ? "s" : ""}`;
  return [
    pieceNames[piece],
    many(mics.length, "mic"),
    layers > 0 && many(layers, "layer"),
    unplayed && "never played",
    open > 0 && `${open} to decide`,
  ]
    .filter((part) => part)
    .join(", ");
}

interface Props {
  readonly planned: PlannedPiece;
  readonly transform: string;
  /** Proposals of it that are not decided. */
  readonly open: number;
  readonly glow: Glow;
  readonly moving: Moving;
}

/** A drum or cymbal: chosen by a press, moved with shift and a drag, and files are dropped onto it. */
export function PlanPiece({ planned, transform, open, glow, moving }: Props) {
  const chosen = useSong((s) => s.piece);
  const { choosePiece } = useSong.getState();
  const { piece, spot, mics, layers } = planned;
  const idle = layers === 0 && mics.every((m) => m.unplayed || m.silent);
  const added = mics.length + layers === 0; // a place to drop a file onto
  return (
    <g
      transform={transform}
      className={`piece ${chosen === piece ? "chosen" : ""} ${idle ? "idle" : ""}`}
      style={{ "--piece": `var(--${piece.replace(/\d/, "")})` } as CSSProperties}
      role={added ? "img" : "button"}
      tabIndex={added ? -1 : 0}
      aria-pressed={added ? undefined : chosen === piece}
      aria-label={told(planned, idle && !added, open)}
      onClick={() => !added && !moving.moved() && choosePiece(chosen === piece ? null : piece)}
      onKeyDown={(event) => pressed(event, () => !added && choosePiece(piece))}
      onPointerDown={(event) => moving.begin(event, piece, spot)}
      onDragOver={(event) => event.dataTransfer.types.includes(micDrag) && event.preventDefault()}
      onDrop={(event) => labelMics([event.dataTransfer.getData(micDrag)], { piece })}
    >
      <Outline planned={planned} className="body" />
      <g ref={glow(piece)} style={{ opacity: 0 }} aria-hidden>
        <Outline planned={planned} className="glow" />
      </g>
      <text className="name" textAnchor="middle" y={spot.shape === "drum" && piece === "snare" ? 2 : 4}>
        {pieceNames[piece].replace("Floor tom", "Floor")}
      </text>
      <Marks planned={planned} />
      {open > 0 && <OpenBadge r={spot.r} open={open} />}
    </g>
  );
}
