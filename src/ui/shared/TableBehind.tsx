"use client";
import { useState } from "react";
import type { PlotTable } from "./plot/plotTable";

interface Props {
  readonly caption: string;
  /** Asked for when the table is opened, and whenever the picture is drawn then. */
  readonly tables: () => readonly PlotTable[];
}

/** What a picture shows as a table: reached by Tab or by a screen reader, out of sight until then. */
export function TableBehind({ caption, tables }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <details className="table-behind" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>As a table: {caption}</summary>
      {open &&
        tables().map(({ head, rows }) => (
          <table key={head.join()}>
            <thead>
              <tr>
                {head.map((h) => (
                  <th key={h} scope="col">
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => (
                <tr key={i}>
                  {row.map((cell, k) =>
                    k === 0 ? (
                      <th key={k} scope="row">
                        {cell}
                      </th>
                    ) : (
                      <td key={k}>{cell}</td>
                    ),
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        ))}
    </details>
  );
}
