import { flushed, high, join, low, promoteHigh, promoteLow, putHigh, putLow } from "./lanes";
import { Q, LEAST, A1, A2, A3, SECOND, THIRD, FOURTH, FIFTH, FIRST_STATE, SECOND_STATE } from "../../processors/lowHarmonics/rows";

/** Sum of the harmonics of two lanes at one frame: c + i s turns once more each time, at the same amplitude. */
@inline function harmonics(c: v128, s: v128, second: v128, third: v128, fourth: v128, fifth: v128): v128 {
  const amplitude = f64x2.sqrt(f64x2.add(f64x2.mul(c, c), f64x2.mul(s, s)));
  const sounds = f64x2.gt(amplitude, f64x2.splat(LEAST));
  const inverse = f64x2.div(f64x2.splat(1), v128.bitselect(amplitude, f64x2.splat(1), sounds));
  const u = f64x2.mul(c, inverse), v = f64x2.mul(s, inverse);
  const re2 = f64x2.sub(f64x2.mul(c, u), f64x2.mul(s, v)), im2 = f64x2.add(f64x2.mul(c, v), f64x2.mul(s, u));
  const re3 = f64x2.sub(f64x2.mul(re2, u), f64x2.mul(im2, v)), im3 = f64x2.add(f64x2.mul(re2, v), f64x2.mul(im2, u));
  const re4 = f64x2.sub(f64x2.mul(re3, u), f64x2.mul(im3, v)), im4 = f64x2.add(f64x2.mul(re3, v), f64x2.mul(im3, u));
  const re5 = f64x2.sub(f64x2.mul(re4, u), f64x2.mul(im4, v));
  const sum = f64x2.add(f64x2.add(f64x2.mul(second, re2), f64x2.mul(third, re3)), f64x2.add(f64x2.mul(fourth, re4), f64x2.mul(fifth, re5)));
  return v128.and(sum, sounds);
}

/** Two of the lanes: `p` and `s` lie at their half of the rows, `x` and `y` at theirs of the frames. */
@inline function twoLanes(p: usize, s: usize, x: usize, y: usize, frames: i32): void {
  const a1 = low(p, A1), a2 = low(p, A2), a3 = low(p, A3), q = f64x2.splat(1.0 / Q), two = f64x2.splat(2);
  const second = low(p, SECOND), third = low(p, THIRD), fourth = low(p, FOURTH), fifth = low(p, FIFTH);
  let i1 = low(s, FIRST_STATE), i2 = low(s, SECOND_STATE);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    const v3 = f64x2.sub(f64x2.promote_low_f32x4(v128.load64_zero(x + o)), i2);
    const band = f64x2.add(f64x2.mul(a1, i1), f64x2.mul(a2, v3));
    const lowPass = f64x2.add(i2, f64x2.add(f64x2.mul(a2, i1), f64x2.mul(a3, v3)));
    i1 = f64x2.sub(f64x2.mul(two, band), i1);
    i2 = f64x2.sub(f64x2.mul(two, lowPass), i2);
    const made = harmonics(f64x2.mul(band, q), f64x2.mul(lowPass, q), second, third, fourth, fifth);
    const was = f64x2.promote_low_f32x4(v128.load64_zero(y + o));
    v128.store64_lane(y + o, f32x4.demote_f64x2_zero(f64x2.add(was, made)), 0);
  }
  putLow(s, FIRST_STATE, flushed(i1));
  putLow(s, SECOND_STATE, flushed(i2));
}

/** Adds harmonics of a low fundamental in x to y. The scalar reference is processors/lowHarmonics/lowHarmonics.ts. */
export function lowHarmonics(p: usize, s: usize, x: usize, y: usize, frames: i32): void {
  twoLanes(p, s, x, y, frames);
  twoLanes(p + 16, s + 16, x + 8, y + 8, frames);
}
