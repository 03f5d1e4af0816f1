import type { StrokeEvent } from "../hits/events";
import type { Hit } from "../song/song";

/** Events whose level lies this near to the threshold are close calls, dB; the nearest are listed. */
const near = 4;
const most = 24;
/** An event is a stroke that begins this near to it, s. */
const same = 0.005;

/** An event that a threshold only just lets pass or only just stops. */
export interface CloseCall {
  readonly time: number;
  readonly levelDb: number;
  readonly kind: "stroke" | "ghost note" | "bleed";
  readonly passes: boolean;
  /** Strokes shall pass and bleed be stopped. */
  readonly right: boolean;
}

/** The close calls of a threshold in dBFS, nearest first. Shape  strokes of the events' drum. */
export function closeCalls(
  events: readonly Pick<StrokeEvent, "time" | "levelDb">[],
  strokes: readonly Hit[],
  threshold: number,
): CloseCall[] {
  const away = (c: { levelDb: number }) => Math.abs(c.levelDb - threshold);
  return events
    .filter((e) => away(e) < near)
    .map(({ time, levelDb }): CloseCall => {
      const hit = strokes.find((h) => Math.abs(h.time - time) < same);
      const passes = levelDb >= threshold;
      const kind = hit ? (hit.ghost ? "ghost note" : "stroke") : "bleed";
      return { time, levelDb, kind, passes, right: passes === (hit !== undefined) };
    })
    .sort((a, b) => away(a) - away(b))
    .slice(0, most);
}
