import { useCallback, useEffect, useRef, useState, type RefObject } from "react";
import { setStyle } from "../shared/draw";
import { playback } from "../shared/playback";
import type { View } from "./drawLine";

/** What of the song the line shows, s: all of it until one zooms; it turns the page when the playhead leaves it. */
export function useView(seconds: number, rate: number) {
  const [view, setView] = useState<View>({ from: 0, to: seconds });
  useEffect(() => setView({ from: 0, to: seconds }), [seconds]);
  useEffect(
    () =>
      playback.subscribe((s) => {
        const { from, to } = view;
        const t = s.position / rate;
        if (!s.playing || to - from >= seconds - 0.1 || (t <= to && t >= from)) return;
        const wide = to - from;
        const start = Math.max(0, Math.min(seconds - wide, t - 0.1 * wide));
        setView({ from: start, to: start + wide });
      }),
    [view, rate, seconds],
  );
  /** Shows more or less of the song around an instant. */
  const zoom = (factor: number, centre: number): void => {
    const wide = Math.min(seconds, Math.max(1, (view.to - view.from) * factor));
    const from = Math.max(0, Math.min(seconds - wide, centre - wide / 2));
    setView({ from, to: from + wide });
  };
  return { view, zoom };
}

/** Keeps the playhead where the song is heard; `wide` is the width of the line, px. */
export function usePlayhead(
  head: RefObject<HTMLElement | null>,
  view: View,
  rate: number,
  wide: RefObject<number>,
): void {
  const now = useRef(view);
  useEffect(() => {
    now.current = view;
  });
  const place = useCallback(
    (frame: number) => {
      const { from, to } = now.current;
      const share = (frame / rate - from) / (to - from);
      const x = share < 0 || share > 1 ? -10 : Math.round(2 * share * wide.current) / 2;
      setStyle(head.current, "transform", `translateX(${x}px)`);
    },
    [head, rate, wide],
  );
  useEffect(() => playback.follow(place), [place, view]);
}
