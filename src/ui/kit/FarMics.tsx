import type { Piece } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { framesToCm, shortName } from "../shared/format";
import { useSong } from "../shared/songStore";
import type { Glow } from "./glow";
import type { planKit } from "./layout";
import { pressed } from "./pressed";

type Far = ReturnType<typeof planKit>["far"];
/** Where something of the plan is drawn as one looks at it. */
export type Seen = (x: number, y: number) => readonly [number, number];

/** Letters of a far mic's name that the plan has room for: of a longer one its end, where names differ. */
const roomFor = 12;
const planName = (file: string): string => {
  const name = shortName(file);
  return name.length <= roomFor ? name : `…${name.slice(1 - roomFor)}`;
};
/** Confidence from which a distance is told. */
const sureEnough = 0.15;

interface DistancesProps {
  readonly far: Far;
  readonly piece: Piece;
  /** Where the drum lies. */
  readonly from: readonly [number, number];
  readonly seen: Seen;
}

/** How far the chosen drum is from every far mic, by what was measured. */
export function Distances({ far, piece, from: [x1, y1], seen }: DistancesProps) {
  const arrivals = useSong((s) => s.facts.arrivals);
  const sampleRate = useSong((s) => s.song!.sampleRate);
  return far.map(({ mic, x, y }) => {
    const arrival = arrivals[mic.id]?.find((a) => a.piece === piece && a.confidence > sureEnough);
    if (!arrival) return null;
    const [x2, y2] = seen(x, y);
    return (
      <g key={mic.id} className="distance">
        <line x1={x1} y1={y1} x2={x2} y2={y2} />
        <text x={x2} y={y2 - 9} textAnchor="middle">
          {(framesToCm(arrival.delaySamples, sampleRate) / 100).toFixed(2)} m
        </text>
      </g>
    );
  });
}

interface Props {
  readonly far: Far;
  readonly glow: Glow;
  readonly seen: Seen;
}

/** Overheads and rooms; a press puts one on the bench. */
export function FarMics({ far, glow, seen }: Props) {
  const chosen = useSong((s) => s.piece);
  const { chooseMic } = useSong.getState();
  return far.map(({ mic, x, y }) => (
    <g
      key={mic.id}
      transform={`translate(${seen(x, y).join(" ")})`}
      className={`far ${chosen === mic.piece ? "chosen" : ""}`}
      role="button"
      tabIndex={0}
      aria-label={`${shortName(mic.file)}, ${pieceNames[mic.piece]} ${mic.place}`}
      onClick={() => chooseMic(mic.id)}
      onKeyDown={(event) => pressed(event, () => chooseMic(mic.id))}
    >
      <path className="body" d="M-8 -5L8 -5L0 8Z" />
      <g ref={glow(mic.id)} style={{ opacity: 0 }} aria-hidden>
        <path className="glow" d="M-8 -5L8 -5L0 8Z" />
      </g>
      <text className="name" textAnchor="middle" y={18}>
        {planName(mic.file)}
      </text>
    </g>
  ));
}
