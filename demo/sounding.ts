import { delayed } from "../src/core/signal/fractionalDelay";

/** A signal, and the stretches of frames [from, to) outside of which it is silent: a drum is, most of the song. */
export interface Sounding {
  readonly x: Float32Array;
  readonly stretches: readonly (readonly [number, number])[];
}

const block = 1024;
/** Blocks of silence that do not part two stretches, so that no delay moves one into the next. */
const kept = 4;

function isSilent(x: Float32Array, from: number, to: number): boolean {
  for (let i = from; i < to; i++) if (x[i] !== 0) return false;
  return true;
}

/** Where a signal sounds. */
export function sounding(x: Float32Array): Sounding {
  const stretches: [number, number][] = [];
  for (let from = 0; from < x.length; from += block) {
    const to = Math.min(x.length, from + block);
    if (isSilent(x, from, to)) continue;
    const last = stretches.at(-1);
    if (last && from - last[1] <= kept * block) last[1] = to;
    else stretches.push([from, to]);
  }
  return { x, stretches };
}

/** Adds a signal to y, `frames` later, at a gain. */
export function addDelayed(y: Float32Array, { x, stretches }: Sounding, frames: number, gain: number): void {
  for (const [from, to] of stretches) {
    const end = Math.min(y.length, to + frames);
    for (let i = Math.max(0, from + frames); i < end; i++) y[i]! += gain * x[i - frames]!;
  }
}

/** Adds a signal to y, later by a fraction of a frame and at most two blocks, at a gain. Errors  RangeError for more. */
export function addBetween(y: Float32Array, { x, stretches }: Sounding, frames: number, gain: number): void {
  const reach = 2 * block;
  if (Math.abs(frames) > reach - 64) throw new RangeError(`a drum ${frames.toFixed(0)} frames from its mic`);
  for (const [from, to] of stretches) {
    const first = Math.max(0, from - reach);
    const exact = delayed(x.subarray(first, to + reach), frames);
    for (let i = 0; i < exact.length; i++) y[first + i]! += gain * exact[i]!;
  }
}
