import { at, double, downPairs, halve, most, oneLate, upPairs, widePairs } from "./rateFilters";
import { floats, low, putLow } from "./lanes";
import { DRIVE, KNEE, STRAIGHT, CUT, X1, X2, LAST, SLOPE, LATE, MOST } from "../../processors/clipper/rows";

const wideLine: usize = <usize>(2 * upPairs - 1 + most) * 16;
/** Bytes of the filters on the way up, and on the way down. */
export const upFourState: i32 = <i32>wideLine + (2 * widePairs - 1 + 2 * most) * 16;
const wideOdd: usize = <usize>(2 * widePairs - 1 + 2 * most) * 16;
const steepEven: usize = 2 * wideOdd;
const steepOdd: usize = steepEven + <usize>(2 * downPairs - 1 + most) * 16;
const held: usize = steepOdd + <usize>(2 * downPairs - 1 + most) * 16;
export const downFourState: i32 = <i32>held + 16;

/** x to four times the rate, into `fast`. The taps of the three half-band filters follow each other: up, wide, down. */
export function upFour(s: usize, taps: usize, x: usize, fast: usize, frames: i32): void {
  memory.copy(at(s, 2 * upPairs - 1), x, <usize>frames << 4);
  double(taps, upPairs, s, at(s + wideLine, 2 * widePairs - 1), frames);
  double(taps + <usize>upPairs * 4, widePairs, s + wideLine, fast, 2 * frames);
}
/** And back; `twice`: place of two blocks. */
export function downFour(s: usize, taps: usize, fast: usize, twice: usize, y: usize, frames: i32): void {
  const wide = taps + <usize>upPairs * 4;
  halve(wide, widePairs, s, s + wideOdd, fast, twice, 2 * frames);
  oneLate(s + held, twice, 2 * frames);
  halve(wide + <usize>widePairs * 4, downPairs, s + steepEven, s + steepOdd, twice, y, frames);
}

// The curve and its integrals: `excess` of the scalar reference, processors/clipper/clipper.ts. u: amount of x.
@inline function signed(x: v128, v: v128): v128 { return v128.or(v, v128.and(x, i64x2.splat(0x8000000000000000))); }
@inline function pieces(x: v128, k: v128, small: v128, large: v128): v128 {
  const u = f64x2.abs(x), one = f64x2.splat(1);
  const chosen = v128.bitselect(large, small, f64x2.ge(u, f64x2.add(one, k)));
  return v128.and(chosen, f64x2.gt(u, f64x2.sub(one, k)));
}
@inline function value(x: v128, k: v128): v128 {
  const u = f64x2.abs(x), one = f64x2.splat(1), b = f64x2.sub(u, f64x2.sub(one, k));
  return signed(x, pieces(x, k, f64x2.div(f64x2.mul(b, b), f64x2.mul(f64x2.splat(4), k)), f64x2.sub(u, one)));
}
@inline function first(x: v128, k: v128): v128 {
  const u = f64x2.abs(x), one = f64x2.splat(1), b = f64x2.sub(u, f64x2.sub(one, k)), d = f64x2.sub(u, one);
  const small = f64x2.div(f64x2.mul(b, f64x2.mul(b, b)), f64x2.mul(f64x2.splat(12), k));
  const large = f64x2.add(f64x2.mul(f64x2.splat(0.5), f64x2.mul(d, d)), f64x2.div(f64x2.mul(k, k), f64x2.splat(6)));
  return pieces(x, k, small, large);
}
@inline function second(x: v128, k: v128): v128 {
  const u = f64x2.abs(x), one = f64x2.splat(1), b = f64x2.sub(u, f64x2.sub(one, k)), d = f64x2.sub(u, one), b2 = f64x2.mul(b, b);
  const small = f64x2.div(f64x2.mul(b2, b2), f64x2.mul(f64x2.splat(48), k));
  const large = f64x2.div(f64x2.add(f64x2.mul(d, f64x2.mul(d, d)), f64x2.mul(f64x2.mul(k, k), d)), f64x2.splat(6));
  return signed(x, pieces(x, k, small, large));
}

/** What lies over the ceiling in the fast samples of two of the lanes, in place and three samples later. */
function clipTwo(p: usize, s: usize, fast: usize, count: i32): void {
  const drive = low(p, DRIVE), k = low(p, KNEE), begin = f64x2.sub(f64x2.splat(1), k), near = f64x2.splat(1e-4), half = f64x2.splat(0.5), two = f64x2.splat(2);
  let x1 = low(s, X1), x2 = low(s, X2), last = low(s, LAST), before = low(s, SLOPE);
  let l0 = low(s, LATE), l1 = low(s, LATE + 1), l2 = low(s, LATE + 2), deepest = f64x2.splat(0);
  for (let i = 0; i < count; i++) {
    const o = at(fast, i);
    const x = f64x2.mul(drive, f64x2.promote_low_f32x4(v128.load64_zero(o)));
    const rests = v128.and(f64x2.le(f64x2.abs(x), begin), v128.and(f64x2.le(f64x2.abs(x1), begin), f64x2.le(f64x2.abs(x2), begin)));
    let y = f64x2.splat(0);
    if (i64x2.all_true(rests)) {
      last = y;
      before = y;
    } else {
      const integral = second(x, k), step = f64x2.sub(x, x1), wide = f64x2.sub(x, x2);
      const isNear = f64x2.lt(f64x2.abs(step), near), isSame = f64x2.lt(f64x2.abs(wide), near);
      let slope = f64x2.div(f64x2.sub(integral, last), step);
      if (v128.any_true(isNear)) slope = v128.bitselect(first(f64x2.mul(half, f64x2.add(x, x1)), k), slope, isNear);
      y = f64x2.div(f64x2.mul(two, f64x2.sub(slope, before)), wide);
      if (v128.any_true(isSame)) {
        const middle = f64x2.mul(half, f64x2.add(x, x2)), apart = f64x2.sub(middle, x1);
        const far = f64x2.mul(f64x2.div(two, apart), f64x2.add(first(middle, k), f64x2.div(f64x2.sub(last, second(middle, k)), apart)));
        const close = value(f64x2.mul(half, f64x2.add(middle, x1)), k);
        y = v128.bitselect(v128.bitselect(close, far, f64x2.lt(f64x2.abs(apart), near)), y, isSame);
      }
      y = v128.andnot(y, rests);
      last = v128.andnot(integral, rests);
      before = v128.andnot(slope, rests);
      deepest = f64x2.pmax(deepest, v128.and(f64x2.abs(x), f64x2.ne(y, f64x2.splat(0))));
    }
    x2 = x1;
    x1 = x;
    v128.store64_lane(o, f32x4.demote_f64x2_zero(l0), 0);
    l0 = l1;
    l1 = l2;
    l2 = y;
  }
  putLow(s, X1, x1); putLow(s, X2, x2); putLow(s, LAST, last); putLow(s, SLOPE, before);
  putLow(s, LATE, l0); putLow(s, LATE + 1, l1); putLow(s, LATE + 2, l2); putLow(s, MOST, deepest);
}

/** Turns fast samples of four lanes into what of them lies over the ceiling. */
export function clip(p: usize, s: usize, fast: usize, count: i32): void {
  clipTwo(p, s, fast, count);
  clipTwo(p + 16, s + 16, fast + 8, count);
}

/** x = what passes of `dry` less what is cut. */
export function clipMix(p: usize, dry: usize, over: usize, x: usize, frames: i32): void {
  const straight = floats(p, STRAIGHT), cut = floats(p, CUT);
  for (let i = 0; i < frames; i++)
    v128.store(at(x, i), f32x4.sub(f32x4.mul(straight, v128.load(at(dry, i))), f32x4.mul(cut, v128.load(at(over, i)))));
}

/** Largest amount of a block of four lanes, four floats into y. */
export function largest(x: usize, y: usize, frames: i32): void {
  let m = f32x4.splat(0);
  for (let i = 0; i < frames; i++) m = f32x4.pmax(m, f32x4.abs(v128.load(at(x, i))));
  v128.store(y, m);
}
