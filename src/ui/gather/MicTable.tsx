"use client";
import { useMemo, useState, type KeyboardEvent } from "react";
import { Table } from "react-bootstrap";
import { inKitOrder } from "../../core/song/kitOrder";
import type { Mic } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { placeNames } from "../shared/format";
import { useSong } from "../shared/songStore";
import { labelMics, pieceKeys, placeKeys } from "./labelMics";
import { MicRow } from "./MicRow";

/** Keys with what they say, in words. */
const said = <T extends string>(
  keys: Readonly<Record<string, T>>,
  names: Readonly<Record<T, string>>,
  before: string,
): string =>
  Object.entries(keys)
    .map(([key, what]) => `${before}${key.toUpperCase()} ${names[what].toLowerCase()}`)
    .join(", ");

interface Modifiers {
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
}

/** The files that are marked, and how keys and presses mark them and walk through them. */
function useMarked(mics: readonly Mic[]) {
  const chosen = useSong((s) => s.mic);
  const [marked, setMarked] = useState<readonly string[]>([]);
  const all = marked.filter((id) => mics.some((m) => m.id === id));
  /** What a label holds for: the marked files, else the chosen one. */
  const rows = all.length > 0 ? all : chosen ? [chosen] : [];
  const mark = (id: string, { shiftKey, ctrlKey, metaKey }: Modifiers) => {
    if (ctrlKey || metaKey)
      return setMarked(rows.includes(id) ? rows.filter((x) => x !== id) : [...rows, id]);
    if (shiftKey && chosen) {
      const ends = [chosen, id].map((x) => mics.findIndex((m) => m.id === x));
      return setMarked(mics.slice(Math.min(...ends), Math.max(...ends) + 1).map((m) => m.id));
    }
    setMarked([]);
    useSong.getState().chooseMic(id);
  };
  const step = (by: number) => {
    const at = mics.findIndex((m) => m.id === chosen);
    const next = mics[Math.max(0, Math.min(mics.length - 1, at + by))];
    if (next) mark(next.id, { shiftKey: false, ctrlKey: false, metaKey: false });
  };
  return { all, rows, mark, step, setMarked };
}

/** Two keys label files: Shift and a key says the drum, a plain key right behind it the place. */
function useLabelKeys(rows: readonly string[]) {
  const [drumSaid, setDrumSaid] = useState(false);
  /** True when the key was one of them. */
  const labelByKey = ({ code, shiftKey }: KeyboardEvent): boolean => {
    const key = code.replace(/^(Key|Digit)/, "").toLowerCase();
    const place = drumSaid && !shiftKey ? placeKeys[key] : undefined;
    const piece = shiftKey ? pieceKeys[key] : undefined;
    setDrumSaid(piece !== undefined);
    if (!place && !piece) return false;
    labelMics(rows, place ? { place } : { piece: piece! });
    return true;
  };
  return { drumSaid, labelByKey };
}

/** Keys of the table: arrows walk, Ctrl A marks all, Escape none, Enter says that the label is right, two keys label. */
function useTableKeys(mics: readonly Mic[], { rows, step, setMarked }: ReturnType<typeof useMarked>) {
  const { drumSaid, labelByKey } = useLabelKeys(rows);
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by !== undefined) step(by);
    else if (event.key === "a" && (event.ctrlKey || event.metaKey)) setMarked(mics.map((m) => m.id));
    else if (event.key === "Escape") setMarked([]);
    else if (event.key === "Enter") labelMics(rows, {});
    else if (event.key === "Shift") return;
    else if (event.ctrlKey || event.metaKey || event.altKey || !labelByKey(event)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  return { drumSaid, onKey };
}

const heads = ["File", "Drum", "Place", "Sure"] as const;

/** Every file with what it is, how sure that is, its level and what is odd about it. Several rows can be labelled at once. */
export function MicTable() {
  const came = useSong((s) => s.song!.mics);
  const mics = useMemo(() => inKitOrder(came), [came]);
  const marked = useMarked(mics);
  const { all, rows, mark } = marked;
  const { drumSaid, onKey } = useTableKeys(mics, marked);
  return (
    <>
      {all.length > 1 && (
        <p className="marked" role="status">
          {all.length} files are marked; a drum or place that is chosen in one of them holds for all.
        </p>
      )}
      <details className="hint">
        <summary>Two keys label the chosen file: Shift and the drum, then the place</summary>
        {said(pieceKeys, pieceNames, "Shift ")}. Then {said(placeKeys, placeNames, "")}. Enter says that the
        label is right; A plays the file alone.
      </details>
      <div
        tabIndex={0}
        role="group"
        data-label-keys={drumSaid ? "place" : "drum"}
        aria-label="Files: arrow keys choose, Ctrl A marks all, two keys label: Shift and the drum, then the place"
        onKeyDown={onKey}
      >
        <Table size="sm" className="mic-table" aria-label="Mics">
          <thead>
            <tr>
              {heads.map((h) => (
                <th key={h}>{h}</th>
              ))}
              <th className="number">Peak</th>
              <th className="number">Trim</th>
              <th>Remark</th>
              <th aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {mics.map((m) => (
              <MicRow
                key={m.id}
                mic={m}
                marked={rows.includes(m.id)}
                mark={(event) => mark(m.id, event)}
                label={(values) => labelMics(rows.includes(m.id) && all.length > 1 ? rows : [m.id], values)}
              />
            ))}
          </tbody>
        </Table>
      </div>
    </>
  );
}
