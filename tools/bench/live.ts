import { blockFrames } from "../../src/core/engine/engine";
import { plainListening } from "../../src/core/listen/listening";
import { Sides } from "../../src/core/listen/sides";
import { busySong, drum, rate } from "./material";
import { median, note, percentile, seconds } from "./table";

const blockSeconds = blockFrames / rate;

/** Share of a block's time that the engine takes with everything on in every mic and eight buses. */
export function liveLoad(): void {
  for (const mics of [8, 16, 24, 32]) {
    const song = busySong(mics);
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
    const budget = mics === 24 ? "below 50" : undefined;
    const plain = measure(4);
    note({ name: `live, ${mics} mics, all on, 8 buses`, value: median(plain), unit: "% of the audio thread", ...(budget ? { budget } : {}) }); // prettier-ignore
    note({ name: "  99 of 100 blocks below", value: percentile(plain, 0.99), unit: "%" });
    const comparison = { kind: "processors", ids: ["m0.compressor"] } as const;
    sides.listen({ ...plainListening, comparison, side: "without" });
    note({ name: "  while one processor is compared", value: median(measure(4)), unit: "%" });
    sides.listen({ ...plainListening, comparison: { kind: "untreated" }, side: "without" });
    note({ name: "  while everything is compared", value: median(measure(4)), unit: "%" });
  }
}
