import { useState, type PointerEvent, type RefObject } from "react";
import { nameOf, possibleTargets, type Owner } from "../../../core/song/graph";
import type { Song } from "../../../core/song/song";
import { routeTo } from "../routing";
import { row, type Box } from "./layOut";

interface Drag {
  readonly owner: Owner;
  readonly x: number;
  readonly y: number;
  readonly moved: boolean;
}

/** A box that is dragged onto a bus goes there; one that is only pressed is chosen. */
export function useGraphDrag(
  svg: RefObject<SVGSVGElement | null>,
  song: Song,
  boxes: ReadonlyMap<string, Box>,
  columnWidth: number,
  choose: (owner: Owner) => void,
) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const targets = new Set(drag ? possibleTargets(song, drag.owner.id).map((b) => b.id) : []);
  const place = (event: PointerEvent): { x: number; y: number } => {
    const inPage = new DOMPoint(event.clientX, event.clientY);
    const { x, y } = inPage.matrixTransform(svg.current!.getScreenCTM()!.inverse());
    return { x, y };
  };
  const under = ({ x, y }: { x: number; y: number }): Owner | undefined =>
    [...boxes.values()].find((b) => x >= b.x && x <= b.x + columnWidth && y >= b.y && y <= b.y + row)?.owner;
  return {
    drag,
    targets,
    begin: (owner: Owner, event: PointerEvent) => setDrag({ owner, ...place(event), moved: false }),
    handlers: {
      onPointerMove: (event: PointerEvent) => drag && setDrag({ ...drag, ...place(event), moved: true }),
      onPointerUp(event: PointerEvent) {
        if (!drag) return;
        const target = under(place(event));
        setDrag(null);
        if (!drag.moved) return choose(drag.owner);
        if (target && targets.has(target.id)) routeTo(drag.owner, target.id, nameOf(target));
      },
      onPointerLeave: () => setDrag(null),
    },
  };
}
