"use client";
import type { ReactNode } from "react";

const hertz = (f: number): string => (f >= 1000 ? `${f / 1000}k` : String(f));

interface Band {
  readonly from: number;
  readonly to: number;
}

/** A table with a column for every band; its rows are the children. */
export function BandTable({
  label,
  bands,
  old = false,
  children,
}: {
  label: string;
  bands: readonly Band[];
  old?: boolean;
  children: ReactNode;
}) {
  return (
    <table className={`band-sums ${old ? "old" : ""}`} aria-label={label}>
      <thead>
        <tr>
          <th>Hz</th>
          {bands.map((b) => (
            <th key={b.from}>
              {hertz(b.from)}–{hertz(b.to)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

/** A figure with a bar beside it, 0..1 of the cell's height. */
export function BarCell({
  share,
  className,
  children,
}: {
  share: number;
  className: string;
  children: ReactNode;
}) {
  return (
    <td className={className}>
      <span className="bar" style={{ height: `${100 * Math.max(0, Math.min(1, share))}%` }} aria-hidden />
      <span>{children}</span>
    </td>
  );
}
