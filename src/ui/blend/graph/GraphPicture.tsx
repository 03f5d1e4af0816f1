"use client";
import { useEffect, useMemo, useRef } from "react";
import { depths, type Owner } from "../../../core/song/graph";
import { atMostEvery, setShare } from "../../shared/draw";
import { playback } from "../../shared/playback";
import { useSong } from "../../shared/songStore";
import { colourOf, columnsOf } from "../mixOrder";
import { GraphBox } from "./GraphBox";
import { GraphLines } from "./GraphLines";
import { curve, layOut, measures, row } from "./layOut";
import { useGraphDrag } from "./useGraphDrag";

/** Peak bars of the mics by their place in the song, drawn without React. */
function usePeaks(): Map<number, SVGRectElement> {
  const bars = useRef(new Map<number, SVGRectElement>());
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(80, ({ peaks }) =>
          bars.current.forEach((bar, m) => {
            const db = 20 * Math.log10(Math.max(1e-5, peaks[m] ?? 0));
            setShare(bar, (db + 60) / 60);
          }),
        ),
      ),
    [],
  );
  return bars.current;
}

/**
 * Who feeds whom, left to right: outputs as lines, sends dashed. A box is chosen by a click and led elsewhere by dragging it onto
 * a bus; the table does the same by keyboard.
 */
export function GraphPicture({ chosen, choose }: { chosen: string; choose: (owner: Owner) => void }) {
  const song = useSong((s) => s.song!);
  const svg = useRef<SVGSVGElement>(null);
  const bars = usePeaks();
  const columns = useMemo(() => columnsOf(song, depths(song)), [song]);
  const { box: columnWidth, gap } = measures(columns.length);
  const { boxes, height } = useMemo(() => layOut(columns, columnWidth + gap), [columns, columnWidth, gap]);
  const width = columns.length * columnWidth + (columns.length - 1) * gap;
  const { drag, targets, begin, handlers } = useGraphDrag(svg, song, boxes, columnWidth, choose);
  const start = drag && boxes.get(drag.owner.id);
  const barOf = (owner: Owner) => (bar: SVGRectElement | null) => {
    const m = song.mics.findIndex((mic) => mic.id === owner.id);
    if (bar) bars.set(m, bar);
    else bars.delete(m);
  };
  const stateOf = ({ id }: Owner) => `${id === chosen ? "chosen" : ""} ${targets.has(id) ? "target" : ""}`;
  return (
    <div className="graph">
      <svg
        ref={svg}
        viewBox={`-4 -4 ${width + 8} ${height + 8}`}
        width={width + 8}
        height={height + 8}
        preserveAspectRatio="xMinYMin meet"
        role="img"
        aria-label="Who feeds whom; the table below says the same and is worked by keyboard"
        {...handlers}
      >
        <GraphLines boxes={boxes} columnWidth={columnWidth} chosen={chosen} />
        {[...boxes.values()].map((box) => (
          <GraphBox
            key={box.owner.id}
            box={box}
            width={columnWidth}
            state={stateOf(box.owner)}
            bar={barOf(box.owner)}
            begin={(event) => begin(box.owner, event)}
          />
        ))}
        {drag?.moved && start && (
          <path
            className="way dragged"
            d={curve(start.x + columnWidth, start.y + row / 2, drag.x, drag.y)}
            style={{ stroke: colourOf(drag.owner) }}
          />
        )}
      </svg>
    </div>
  );
}
