import { strokeOf, type Doubt } from "../../../core/hits/corrections";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Hit, Piece } from "../../../core/song/song";
import { hear } from "../../shared/hear";
import { correctStroke } from "../playingChange";
import { ghostLabel } from "./StrokeFacts";
import type { DrumStrokesShown } from "./useDrumStrokes";

/** Stretch of a stroke that is heard when it is passed, s before and after its start. */
const heardBefore = 0.15;
const heardAfter = 0.35;
/** Level of a stroke that is added where there is none to go by, dBFS. */
const usualLevel = -12;

/** What is done to the strokes of a drum. `pick` is the instant that is looked at, s; `setPick` looks at another. */
export function strokeActs(
  piece: Piece,
  { shown, sorted, doubts }: Pick<DrumStrokesShown, "shown" | "sorted" | "doubts">,
  pick: number | null,
  setPick: (time: number) => void,
) {
  const name = pieceNames[piece].toLowerCase();
  const choose = (time: number): void => {
    setPick(time);
    hear(time, heardBefore, heardAfter);
  };
  const step = (by: 1 | -1): void => {
    const at = sorted.findIndex((h) => h.time === pick);
    const next = sorted[Math.max(0, Math.min(sorted.length - 1, at + by))];
    if (next) choose(next.time);
  };
  const change = (hit: Hit, more: Partial<Hit>, label: string): void => {
    correctStroke(label, { type: "change", piece, time: hit.time, hit: { ...hit, ...more, sure: 1 } });
    if (more.time !== undefined) setPick(more.time);
  };
  const drop = (hit: Hit): void => {
    step(1);
    correctStroke(`Drop a stroke of the ${name}`, { type: "drop", piece, time: hit.time });
  };
  const add = (time: number): void => {
    const far = (h: Hit) => Math.abs(h.time - time);
    const near = shown.reduce<Hit | null>((best, h) => (!best || far(h) < far(best) ? h : best), null);
    const like = { levelDb: near?.levelDb ?? usualLevel, ghost: near?.ghost ?? false };
    correctStroke(`Add a stroke of the ${name}`, {
      type: "add",
      hit: { piece, time, ...like, kind: "stroke", sure: 1 },
    });
    setPick(time);
  };
  const settle = (doubt: Doubt, take: boolean): void => {
    correctStroke(
      `${take ? "Accept" : "Drop"} a doubtful stroke of the ${name}`,
      take ? { type: "add", hit: strokeOf(doubt, shown) } : { type: "drop", piece, time: doubt.time },
    );
    const next = doubts[doubts.indexOf(doubt) + 1];
    if (next) choose(next.time);
  };
  const chosen = shown.find((h) => h.time === pick) ?? null;
  const doubt = doubts.find((d) => d.time === pick);
  const keys: Record<string, (() => void) | undefined> = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    Delete: chosen ? () => drop(chosen) : undefined,
    Enter: doubt ? () => settle(doubt, true) : undefined,
    Backspace: doubt ? () => settle(doubt, false) : undefined,
    v: chosen ? () => change(chosen, { ghost: !chosen.ghost }, ghostLabel(chosen)) : undefined,
  };
  return { chosen, choose, change, drop, add, settle, keys };
}
export type StrokeActs = ReturnType<typeof strokeActs>;
