import { useEffect, useRef } from "react";
import type { Song } from "../../../core/song/song";
import { atMostEvery, setShare } from "../../shared/draw";
import { playback } from "../../shared/playback";

/** Peak bars of all mics and buses, drawn without React. */
export function useMeters({ mics, buses }: Song) {
  const bars = useRef(new Map<string, HTMLElement>());
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(60, ({ peaks, busPeaks }) => {
          const draw = (id: string, peak: number) => {
            const db = 20 * Math.log10(Math.max(1e-5, peak));
            setShare(bars.current.get(id), (db + 60) / 60);
          };
          mics.forEach((m, i) => draw(m.id, peaks[i] ?? 0));
          buses.forEach((b, i) => draw(b.id, busPeaks[i] ?? 0));
        }),
      ),
    [mics, buses],
  );
  return (id: string) => (element: HTMLElement | null) => {
    if (element) bars.current.set(id, element);
    else bars.current.delete(id);
  };
}
