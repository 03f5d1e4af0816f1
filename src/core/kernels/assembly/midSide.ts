import { mask, partner } from "./lanes";

const signs: usize = memory.data<f32>([1, -1, 1, -1]);

/**
 * Left and right into mid and side, or back: sum and difference of the two lanes of a pair, times `gain`, in place, in the
 * lanes whose row holds 1. One half on the way there, 1 on the way back.
 */
export function midSide(pairs: usize, gain: f32, x: usize, frames: i32): void {
  const chosen = mask(pairs, 0), sign = v128.load(signs), g = f32x4.splat(gain);
  for (let i = 0; i < frames; i++) {
    const o = x + (<usize>i << 4);
    const v = v128.load(o);
    const turned = f32x4.mul(g, f32x4.add(f32x4.mul(v, sign), partner(v)));
    v128.store(o, v128.bitselect(turned, v, chosen));
  }
}
