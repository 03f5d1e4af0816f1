import { useRef, type PointerEvent, type RefObject } from "react";
import type { Piece, PlanSettings } from "../../core/song/song";
import { pieceNames } from "../../core/song/pieceNames";
import { useSong } from "../shared/songStore";

/** Distance from the stool round which the plan turns, cm. */
export const middle = 40;
/** Edge of the plan, cm. */
const edge = { x: 105, low: -40, high: 150 };

export const changePlan = (label: string, plan: PlanSettings): void =>
  useSong.getState().change(label, { op: "setSong", values: { plan } });

/** Turns the kit round for a left-handed drummer or back; pieces that were moved stay where they stand beside their neighbours. */
export function turnPlan(): void {
  const { plan } = useSong.getState().song!;
  const places = Object.fromEntries(Object.entries(plan.places).map(([p, [x, y]]) => [p, [-x, y] as const]));
  changePlan("Turn the kit round", { mirrored: !plan.mirrored, places });
}

interface Held {
  readonly piece: Piece;
  /** From the pointer to the middle of the piece, cm. */
  readonly dx: number;
  readonly dy: number;
}

/** Moves a piece of the plan with Shift and the pointer; the place is stored when it is let go. */
export function useMoving(svg: RefObject<SVGSVGElement | null>, turn: number) {
  const held = useRef<Held | null>(null);
  const went = useRef(false);
  const pointAt = (event: PointerEvent): readonly [number, number] => {
    const matrix = svg.current?.getScreenCTM();
    if (!matrix) return [0, 0];
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    return [turn * x, middle + turn * (-y - middle)];
  };
  const placed = (event: PointerEvent, { piece, dx, dy }: Held): PlanSettings => {
    const { plan } = useSong.getState().song!;
    const [x, y] = pointAt(event);
    const inside = (v: number, low: number, high: number) => Math.round(Math.max(low, Math.min(high, v)));
    const place = [inside(x + dx, -edge.x, edge.x), inside(y + dy, edge.low, edge.high)] as const;
    return { ...plan, places: { ...plan.places, [piece]: place } };
  };
  return {
    begin(event: PointerEvent, piece: Piece, at: { readonly x: number; readonly y: number }): void {
      went.current = false;
      if (!event.shiftKey) return;
      const [x, y] = pointAt(event);
      held.current = { piece, dx: at.x - x, dy: at.y - y };
      svg.current?.setPointerCapture(event.pointerId); // also outside of the plan
    },
    move(event: PointerEvent): void {
      if (!held.current) return;
      went.current = true;
      useSong.getState().preview({ op: "setSong", values: { plan: placed(event, held.current) } });
    },
    end(event: PointerEvent): void {
      const { current } = held;
      held.current = null;
      if (current && went.current)
        changePlan(`Move ${pieceNames[current.piece]} on the plan`, placed(event, current));
    },
    /** True when the last press moved a piece and so is no click. */
    moved: (): boolean => went.current,
  };
}
export type Moving = ReturnType<typeof useMoving>;
