import { useRef, useState } from "react";
import { measureTempo } from "../../../core/grid/measureTempo";
import { movedTempo, steadyTempo, tappedBpm } from "../../../core/grid/steadyTempo";
import type { Song, Tempo } from "../../../core/song/song";
import { useSong } from "../../shared/songStore";
import { changePlaying } from "../playingChange";

/** A pause after which tapping begins anew, s. */
const tapsApart = 2.5;

/** What is done to the beats of a song. */
export function tempoChanges({ tempo, hits, frames, sampleRate }: Song) {
  const seconds = frames / sampleRate;
  const take = (next: Tempo | null, label: string): void => {
    if (next) changePlaying(label, { tempo: next });
    else
      useSong.getState().tell("There are too few strokes for a tempo. Type it, or tap it while you listen.");
  };
  return {
    take,
    measure: (follow: "never" | "always", label: string) =>
      take(measureTempo(hits, seconds, { follow }), label),
    setBpm: (bpm: number) =>
      take(
        tempo ? steadyTempo(tempo, bpm, seconds) : measureTempo(hits, seconds, { bpm }),
        `Tempo ${bpm.toFixed(2)} bpm`,
      ),
    move: (by: number, label: string) => void (tempo && take(movedTempo(tempo, by), label)),
  };
}
export type TempoChanges = ReturnType<typeof tempoChanges>;

/** A tempo that is tapped; null before there is one. */
export function useTaps(): { readonly tapped: number | null; readonly tap: () => void } {
  const taps = useRef<number[]>([]);
  const [tapped, setTapped] = useState<number | null>(null);
  const tap = () => {
    const now = performance.now() / 1000;
    const list = taps.current;
    if (list.length > 0 && now - list[list.length - 1]! > tapsApart) list.length = 0;
    list.push(now);
    setTapped(tappedBpm(list));
  };
  return { tapped, tap };
}
