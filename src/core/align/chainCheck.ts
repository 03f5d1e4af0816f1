import { processChain } from "../engine/processChain";
import type { ProcessorState } from "../song/song";
import { asRecorded, pairSpectra, sumGain, type PairSpectra } from "./bands";
import { lowEndHz } from "./evidence";

/** What the chains behind Align have made of a pair. */
export interface ChainCheck {
  /** Low end of the sum over both apart, dB: behind polarity, delay and rotation; at the end of both chains. */
  readonly alignedDb: number;
  readonly endDb: number;
  /** Id of the processor without which most of the loss is gone; null: no loss, or no single cause. */
  readonly cause: string | null;
  readonly strokes: number;
}

/** Types that belong to the alignment itself. */
const aligning: readonly string[] = ["delay", "polarity", "rotation", "trim"];
/** Loss that is worth a warning, dB. */
export const worthTelling = 1.5;
const most = 16;
/** Stretch of a stroke that runs through the chains: what comes before warms the filters up. */
const before = 0.06;
const after = 0.16;

interface Side {
  readonly chain: readonly ProcessorState[];
  readonly audio: readonly Float32Array[];
}

/** Strokes cut out and set one after another, so that a chain runs over them alone. */
function reel(
  x: Float32Array,
  times: readonly number[],
  sampleRate: number,
): { audio: Float32Array; times: number[] } {
  const length = Math.round((before + after) * sampleRate);
  const audio = new Float32Array(length * times.length);
  times.forEach((t, i) => {
    const from = Math.max(0, Math.round((t - before) * sampleRate));
    audio.set(x.subarray(from, from + length), i * length);
  });
  return { audio, times: times.map((_, i) => (i * length) / sampleRate + before) };
}

/**
 * Measures a pair again at the end of both chains, and finds what has turned it apart.
 * Shape   times: onsets in the main mic, s. Gates and dynamic EQ are opened by these strokes.
 */
export function checkChains(
  main: Side,
  second: Side,
  times: readonly number[],
  sampleRate: number,
): ChainCheck {
  const chosen = times.slice(0, most);
  const [a, b] = [main, second].map((s) => reel(s.audio[0]!, chosen, sampleRate)) as [
    ReturnType<typeof reel>,
    ReturnType<typeof reel>,
  ];
  const hits = Float64Array.from(a.times, (t) => t * sampleRate);
  const run = (chain: readonly ProcessorState[], x: Float32Array) =>
    processChain(
      chain.filter((p) => p.type !== "pan"),
      [x],
      sampleRate,
      hits,
    )[0]!;
  const part = (chain: readonly ProcessorState[], keep: (p: ProcessorState) => boolean) =>
    chain.map((p) => (keep(p) ? p : { ...p, on: aligning.includes(p.type) && p.on }));
  const spectra = (keep: (p: ProcessorState) => boolean): PairSpectra =>
    pairSpectra(
      run(part(main.chain, keep), a.audio),
      run(part(second.chain, keep), b.audio),
      a.times,
      sampleRate,
    );
  const low = (p: PairSpectra) => sumGain(p, asRecorded, 30, lowEndHz);
  const alignedDb = low(spectra((p) => aligning.includes(p.type)));
  const endDb = low(spectra(() => true));
  let cause: { id: string; db: number } | null = null;
  if (endDb < alignedDb - worthTelling)
    for (const { id, type, on } of [...main.chain, ...second.chain]) {
      if (!on || aligning.includes(type) || type === "pan") continue;
      const db = low(spectra((p) => p.id !== id));
      if (db - endDb > 0.6 * (alignedDb - endDb) && db > (cause?.db ?? -Infinity)) cause = { id, db };
    }
  return { alignedDb, endDb, cause: cause?.id ?? null, strokes: chosen.length };
}
