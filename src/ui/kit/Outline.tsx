import type { PlannedPiece } from "./layout";

const petals = (r: number): string =>
  Array.from({ length: 12 }, (_, k) => {
    const a = (k * Math.PI) / 6;
    const rr = k % 2 === 0 ? r : r * 0.86;
    return `${(rr * Math.cos(a)).toFixed(1)},${(rr * Math.sin(a)).toFixed(1)}`;
  }).join(" ");

/** Outline of a piece by its kind: barrel, shell with wires or lugs, floor tom on legs, cymbals. */
export function Outline({
  planned: { piece, spot },
  className,
}: {
  planned: PlannedPiece;
  className: string;
}) {
  const { r, shape } = spot;
  switch (shape) {
    case "barrel":
      return <rect className={className} x={-r} y={-r * 0.82} width={2 * r} height={1.64 * r} rx={9} />;
    case "cymbal":
      return <polygon className={className} points={petals(r)} />;
    case "floor":
      return <rect className={className} x={-r} y={-r} width={2 * r} height={2 * r} rx={r * 0.62} />;
    case "pair":
      return (
        <g>
          <circle className={className} r={r} />
          <circle className="detail" r={r * 0.72} cx={3} cy={-3} />
        </g>
      );
    default:
      return (
        <g>
          <circle className={className} r={r} />
          {piece === "snare" && <path className="detail" d={`M${-r + 3} 8H${r - 3}M${-r + 5} 11H${r - 5}`} />}
        </g>
      );
  }
}
