// Sums over a stretch of one signal of 32-bit floats, in 64 bits and in the order of the frames.
import { flushed } from "./lanes";

/** The first state of two sections behind a frame, transposed direct form II. */
@inline function first(b1: v128, a1: v128, z2: v128, v: v128, y: v128): v128 {
  return f64x2.add(f64x2.sub(f64x2.mul(b1, v), f64x2.mul(a1, y)), z2);
}
/** Their second state. */
@inline function second(b2: v128, a2: v128, v: v128, y: v128): v128 {
  return f64x2.sub(f64x2.mul(b2, v), f64x2.mul(a2, y));
}
/** The square of a value of either lane, as large as its 32 bits are. */
@inline function squared(y: v128): v128 {
  const kept = f64x2.promote_low_f32x4(f32x4.demote_f64x2_zero(y));
  return f64x2.mul(kept, kept);
}

/**
 * Sum of squares of what two sections in a row make of floats at x. Each lies in a lane, the second a frame behind the first, so that
 * neither waits for the other. p: b0, b1, b2, a1, a2 and two states, a vector each. frames: 1 or more.
 */
export function weightedSquares(p: usize, x: usize, frames: i32): f64 {
  const b0 = v128.load(p), b1 = v128.load(p, 16), b2 = v128.load(p, 32), a1 = v128.load(p, 48), a2 = v128.load(p, 64);
  let z1 = v128.load(p, 80), z2 = v128.load(p, 96);
  let v = f64x2.promote_low_f32x4(v128.load32_zero(x));
  let y = f64x2.add(f64x2.mul(b0, v), z1);
  // Only the first section takes the first frame, only the second what came out of it behind the last.
  z1 = v128.shuffle<i64>(first(b1, a1, z2, v, y), z1, 0, 3);
  z2 = v128.shuffle<i64>(second(b2, a2, v, y), z2, 0, 3);
  let sum = f64x2.splat(0);
  for (let i = 1; i < frames; i++) {
    v = v128.shuffle<i64>(f64x2.promote_low_f32x4(v128.load32_zero(x + (<usize>i << 2))), y, 0, 2);
    y = f64x2.add(f64x2.mul(b0, v), z1);
    z1 = first(b1, a1, z2, v, y);
    z2 = second(b2, a2, v, y);
    sum = f64x2.add(sum, squared(y));
  }
  v = v128.shuffle<i64>(v, y, 0, 2);
  y = f64x2.add(f64x2.mul(b0, v), z1);
  v128.store(p, flushed(v128.shuffle<i64>(z1, first(b1, a1, z2, v, y), 0, 3)), 80);
  v128.store(p, flushed(v128.shuffle<i64>(z2, second(b2, a2, v, y), 0, 3)), 96);
  return f64x2.extract_lane(f64x2.add(sum, squared(y)), 1);
}

/** Sum, sum of squares, highest and lowest of floats at x, these at least and at most 0: four doubles to `out`. */
export function walkOver(x: usize, frames: i32, out: usize): void {
  let sums = f64x2.splat(0);
  let high = f32x4.splat(0), low = f32x4.splat(0);
  for (let i = 0; i < frames; i++) {
    const one = v128.load32_zero(x + (<usize>i << 2));
    const v = f64x2.promote_low_f32x4(v128.shuffle<f32>(one, one, 0, 0, 0, 0));
    sums = f64x2.add(sums, f64x2.mul(v, f64x2.replace_lane(v, 0, 1)));
    high = f32x4.pmax(high, one);
    low = f32x4.pmin(low, one);
  }
  v128.store(out, sums);
  store<f64>(out, <f64>f32x4.extract_lane(high, 0), 16);
  store<f64>(out, <f64>f32x4.extract_lane(low, 0), 24);
}
