import { useEffect, useRef } from "react";
import type { Owner } from "../../core/song/graph";
import { atMostEvery, setText } from "../shared/draw";
import { signed } from "../shared/format";
import { playback } from "../shared/playback";

/** Below this there is nothing to compare, dBFS. */
const silent = -80;

/**
 * Writes into elements what each processor of a chain takes or gives while it plays: mean level and held peak, dB. Returns
 * where to put the element of a processor.
 */
export function useChainLevels(owner: Owner): (id: string) => (element: HTMLElement | null) => void {
  const elements = useRef(new Map<string, HTMLElement>());
  const chain = useRef(owner.chain);
  useEffect(() => {
    chain.current = owner.chain;
  });
  useEffect(() => playback.watchChain(owner.id), [owner.id]);
  useEffect(
    () =>
      playback.subscribe(
        atMostEvery(200, ({ chainLevels, playing }) => {
          if (!playing) return;
          // What runs before and behind the lanes is not among the places.
          const lanes = chain.current.filter((p) => p.type !== "cancel" && p.type !== "pan");
          if (chainLevels.length !== lanes.length + 1) return;
          lanes.forEach((p, s) => {
            const [before, after] = [chainLevels[s]!, chainLevels[s + 1]!];
            const quiet = before.levelDb < silent;
            setText(
              elements.current.get(p.id) ?? null,
              quiet
                ? "silent"
                : `${signed(after.levelDb - before.levelDb, 1)} / ${signed(after.peakDb - before.peakDb, 1)}`,
            );
          });
        }),
      ),
    [],
  );
  return (id) => (element) => {
    if (element) elements.current.set(id, element);
    else elements.current.delete(id);
  };
}
