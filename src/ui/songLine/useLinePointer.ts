import { useRef, useState, type PointerEvent } from "react";
import type { Song } from "../../core/song/song";
import { playback } from "../shared/playback";
import { onSections, snapped, type View } from "./drawLine";

/** Pixels from which a press is a drag. */
const dragFrom = 4;
/** Shortest loop, s. */
const shortest = 0.25;

/** A press puts the playhead, or loops a section; a drag draws a loop from beat to beat. `drawn` is the one under way. */
export function useLinePointer(song: Song, view: View) {
  const [drawn, setDrawn] = useState<View | null>(null);
  const start = useRef<{ x: number; t: number; y: number } | null>(null);
  const rate = song.sampleRate;
  const timeAt = (event: PointerEvent): number => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = (event.clientX - box.left) / box.width;
    return Math.min(song.frames / rate, Math.max(0, view.from + share * (view.to - view.from)));
  };
  const loopOf = (a: number, b: number): View => {
    const from = snapped(song, Math.min(a, b));
    return { from, to: Math.max(snapped(song, Math.max(a, b)), from + shortest) };
  };
  const take = ({ from, to }: View) =>
    playback.setLoop({ from: Math.round(from * rate), to: Math.round(to * rate) }, true);
  const end = () => {
    start.current = null;
    setDrawn(null);
  };
  return {
    drawn,
    onPointerDown(event: PointerEvent) {
      start.current = { x: event.clientX, t: timeAt(event), y: event.nativeEvent.offsetY };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove(event: PointerEvent) {
      const begun = start.current;
      if (begun && Math.abs(event.clientX - begun.x) > dragFrom) setDrawn(loopOf(begun.t, timeAt(event)));
    },
    onPointerUp(event: PointerEvent) {
      const begun = start.current;
      end();
      if (!begun) return;
      const t = timeAt(event);
      if (Math.abs(event.clientX - begun.x) > dragFrom) return take(loopOf(begun.t, t));
      const section = song.sections.find((s) => t >= s.from && t < s.to);
      if (section && onSections(begun.y)) take({ from: section.from, to: section.to });
      else playback.seek(t * rate);
    },
    onPointerCancel: end,
  };
}
