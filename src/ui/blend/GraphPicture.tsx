"use client";
import { useEffect, useMemo, useRef, useState, type PointerEvent } from "react";
import { depths, isMic, nameOf, possibleTargets, type Owner } from "../../core/song/graph";
import { atMostEvery } from "../shared/draw";
import { shortName, signed } from "../shared/format";
import { playback } from "../shared/playback";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { colourOf, columnsOf } from "./mixOrder";
import { routeTo } from "./routing";

const row = 25;
/** Widest that the picture should be, px; then it scrolls. */
const widest = 656;
const slimmest = 96;
const boxHeight = 21;

interface Box {
  readonly owner: Owner;
  readonly x: number;
  readonly y: number;
}

/** Width of the boxes and of the room between them for so many columns. */
function measures(columns: number): { box: number; gap: number } {
  const gap = columns > 4 ? 30 : 44;
  const box = Math.floor((widest - (columns - 1) * gap) / columns);
  return { box: Math.max(slimmest, Math.min(130, box)), gap };
}

/** Where every mic and bus is drawn: a bus stands in the middle of what goes to it, without lying on another. */
function layOut(
  columns: readonly (readonly Owner[])[],
  step: number,
): { boxes: Map<string, Box>; height: number } {
  const boxes = new Map<string, Box>();
  columns.forEach((owners, c) => {
    let free = 0;
    const wished = owners.map((owner, i) => {
      const feeding = [...boxes.values()].filter((b) => b.owner.output === owner.id).map((b) => b.y);
      return { owner, y: feeding.length > 0 ? feeding.reduce((s, y) => s + y, 0) / feeding.length : i * row };
    });
    for (const { owner, y } of c === 0 ? wished : wished.sort((a, b) => a.y - b.y)) {
      const at = Math.max(free, y);
      boxes.set(owner.id, { owner, x: c * step, y: at });
      free = at + row;
    }
  });
  const lowest = Math.max(...[...boxes.values()].map((b) => b.y));
  return { boxes, height: lowest + row };
}

const curve = (x1: number, y1: number, x2: number, y2: number): string => {
  const bend = Math.max(24, Math.abs(x2 - x1) / 2);
  return `M${x1},${y1} C${x1 + bend},${y1} ${x2 - bend},${y2} ${x2},${y2}`;
};

/**
 * Who feeds whom, left to right: outputs as lines, sends dashed. A box is chosen by a click and led elsewhere by dragging it onto
 * a bus; the table does the same by keyboard.
 */
export function GraphPicture({ chosen, choose }: { chosen: string; choose: (owner: Owner) => void }) {
  const song = useSong((s) => s.song!);
  const svg = useRef<SVGSVGElement>(null);
  const bars = useRef(new Map<number, SVGRectElement>());
  const [drag, setDrag] = useState<{ owner: Owner; x: number; y: number; moved: boolean } | null>(null);
  const columns = useMemo(() => columnsOf(song, depths(song)), [song]);
  const { box: columnWidth, gap } = measures(columns.length);
  const { boxes, height } = useMemo(() => layOut(columns, columnWidth + gap), [columns, columnWidth, gap]);
  const width = columns.length * columnWidth + (columns.length - 1) * gap;
  const targets = useMemo(
    () => new Set(drag ? possibleTargets(song, drag.owner.id).map((b) => b.id) : []),
    [song, drag],
  );
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(80, ({ peaks }) =>
          bars.current.forEach((bar, m) => {
            const db = 20 * Math.log10(Math.max(1e-5, peaks[m] ?? 0));
            bar.setAttribute("width", String((columnWidth * Math.min(60, Math.max(0, db + 60))) / 60));
          }),
        ),
      ),
    [columnWidth],
  );
  const place = (event: PointerEvent): { x: number; y: number } => {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(
      svg.current!.getScreenCTM()!.inverse(),
    );
    return { x: point.x, y: point.y };
  };
  const under = ({ x, y }: { x: number; y: number }): Owner | undefined =>
    [...boxes.values()].find((b) => x >= b.x && x <= b.x + columnWidth && y >= b.y && y <= b.y + row)?.owner;
  const drop = (event: PointerEvent) => {
    if (!drag) return;
    const target = under(place(event));
    setDrag(null);
    if (!drag.moved) return choose(drag.owner);
    if (target && targets.has(target.id)) routeTo(drag.owner, target.id, nameOf(target));
  };
  const lines = [...boxes.values()].flatMap((from) => {
    const { owner } = from;
    const line = (to: string, dashed: boolean, title: string) => {
      const box = boxes.get(to);
      if (!box) return [];
      const lit = owner.id === chosen || to === chosen;
      return [
        <path
          key={`${owner.id} ${to} ${title}`}
          d={curve(from.x + columnWidth, from.y + row / 2, box.x, box.y + row / 2)}
          className={`way ${dashed ? "send" : ""} ${lit ? "lit" : ""} ${owner.muted ? "muted" : ""}`}
          style={{ stroke: colourOf(owner) }}
        >
          <title>{title}</title>
        </path>,
      ];
    };
    return [
      ...(owner.output ? line(owner.output, false, `${ownerName(owner)} goes here`) : []),
      ...owner.sends.flatMap((s) =>
        line(s.bus, true, `Send of ${ownerName(owner)}, ${signed(s.level, 1)} dB`),
      ),
    ];
  });
  const start = drag && boxes.get(drag.owner.id);
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
        onPointerMove={(e) => drag && setDrag({ ...drag, ...place(e), moved: true })}
        onPointerUp={drop}
        onPointerLeave={() => setDrag(null)}
      >
        {lines}
        {[...boxes.values()].map(({ owner, x, y }) => (
          <g
            key={owner.id}
            transform={`translate(${x},${y})`}
            className={`box ${owner.id === chosen ? "chosen" : ""} ${owner.muted ? "muted" : ""} ${targets.has(owner.id) ? "target" : ""}`}
            onPointerDown={(e) => setDrag({ owner, ...place(e), moved: false })}
          >
            <rect y={(row - boxHeight) / 2} width={columnWidth} height={boxHeight} rx={3} />
            {isMic(owner) && (
              <rect
                className="peak"
                ref={(bar) => {
                  const m = song.mics.indexOf(owner);
                  if (bar) bars.current.set(m, bar);
                  else bars.current.delete(m);
                }}
                y={(row + boxHeight) / 2 - 3}
                width={0}
                height={3}
              />
            )}
            <rect
              y={(row - boxHeight) / 2}
              width={4}
              height={boxHeight}
              style={{ fill: colourOf(owner) }}
              className="piece"
            />
            <text x={10} y={row / 2 + 4}>
              {shortName(nameOf(owner)).slice(0, Math.floor((columnWidth - (isMic(owner) ? 14 : 26)) / 6.3))}
            </text>
            {!isMic(owner) && owner.chain.some((p) => p.on) && (
              <text x={columnWidth - 6} y={row / 2 + 4} className="count">
                {owner.chain.filter((p) => p.on).length}
              </text>
            )}
          </g>
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
