import { blockFrames } from "../../src/core/engine/engine";
import { plainListening } from "../../src/core/listen/listening";
import { Sides } from "../../src/core/listen/sides";
import type { Song } from "../../src/core/song/song";
import { busySong, drum, fullGraph, rate, unlikeChains, withBuses } from "./material";
import { median, note, percentile, seconds } from "./table";

const blockSeconds = blockFrames / rate;

/** Runs sides of a song; measures shares of a block's time in %, once it has settled. */
function runner(song: Song): { sides: Sides; measure: (runs: number) => number[] } {
  const sides = new Sides(song);
  const inputs = song.mics.map((_, i) => drum(rate, i + 1));
  const measure = (runs: number): number[] => {
    const times: number[] = [];
    for (let r = 0; r < runs; r++)
      for (let b = 0; b < Math.floor(rate / blockFrames); b++) {
        const at = b * blockFrames;
        const block = inputs.map((x) => [x.subarray(at, at + blockFrames)]);
        const t = seconds(() => sides.process(block, block, at + r * rate));
        if (r > 0) times.push((100 * t) / blockSeconds);
      }
    return times;
  };
  return { sides, measure };
}

function noteLoad(name: string, times: readonly number[], budget?: string): void {
  note({ name, value: median(times), unit: "% of the audio thread", ...(budget ? { budget } : {}) });
  note({ name: "  99 of 100 blocks below", value: percentile(times, 0.99), unit: "%" });
}

/** What it costs that chains differ and that there are many buses; 24 mics, everything on, Cancel included. */
export function graphLoad(): void {
  const equal = busySong(24);
  noteLoad("live, 24 mics with equal chains", runner(equal).measure(4));
  noteLoad("live, 24 mics with 24 different chains", runner(unlikeChains(equal)).measure(4));
  for (const buses of [8, 16, 32])
    noteLoad(
      `live, 24 mics, ${buses} buses, equal chains`,
      runner(withBuses(equal, buses, false)).measure(4),
    );
  noteLoad("live, 24 mics, 32 buses, all different", runner(withBuses(equal, 32, true)).measure(4));
  noteLoad(
    "live, 24 mics, 12 drum and group buses, 4 parallel, all different and on",
    runner(fullGraph(24)).measure(4),
    "below 50",
  );
}

/** Share of a block's time that the engine takes with everything on in every mic and eight buses. */
export function liveLoad(): void {
  for (const mics of [8, 16, 24, 32]) {
    const { sides, measure } = runner(busySong(mics));
    const budget = mics === 24 ? "below 50" : undefined;
    const plain = measure(4);
    noteLoad(`live, ${mics} mics, all on, 8 buses`, plain, budget);
    const comparison = { kind: "processors", ids: ["m0.compressor"] } as const;
    sides.listen({ ...plainListening, comparison, side: "without" });
    note({ name: "  while one processor is compared", value: median(measure(4)), unit: "%" });
    sides.listen({ ...plainListening, comparison: { kind: "untreated" }, side: "without" });
    note({ name: "  while everything is compared", value: median(measure(4)), unit: "%" });
  }
}
