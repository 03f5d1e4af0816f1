import { useEffect, useRef } from "react";
import { atMostEvery, setStyle } from "../shared/draw";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";

/** Peak at which a piece glows fully, and below which it does not, dBFS. */
const range = [-50, -6] as const;

/** Notes the element that glows with a drum, or with a far mic, by id. */
export type Glow = (key: string) => (element: SVGGElement | null) => void;

/** Has elements glow as loudly as their drum or mic is heard, drawn without React. */
export function useGlow(): Glow {
  const glows = useRef(new Map<string, SVGGElement>());
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(60, ({ peaks }) => {
          const loudest = new Map<string, number>();
          useSong.getState().song?.mics.forEach((m, i) => {
            const key = m.piece === "overhead" || m.piece === "room" ? m.id : m.piece;
            loudest.set(key, Math.max(loudest.get(key) ?? 0, peaks[i] ?? 0));
          });
          for (const [key, element] of glows.current) {
            const db = 20 * Math.log10(Math.max(1e-5, loudest.get(key) ?? 0));
            const share = (db - range[0]) / (range[1] - range[0]);
            setStyle(element, "opacity", Math.min(1, Math.max(0, share)).toFixed(1));
          }
        }),
      ),
    [],
  );
  return (key) => (element) => {
    if (element) glows.current.set(key, element);
    else glows.current.delete(key);
  };
}
