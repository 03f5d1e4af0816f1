import { flushed } from "./lanes";
import { exp2Double } from "./math";
import { IS_LOW, IS_HIGH, IS_BELL, G, K, D1, D2, D3, REST, RANGE, THRESHOLD, ATTACK, RELEASE, HOLD, BY_LEVEL, PAIRED, IS_WHOLE, HEARD1, HEARD2, Z1, Z2, HELD, SHARE, GAIN, DESIGNED, A1, A2, A3, M0, M1, M2 } from "../../processors/dynamicEq/rows";


@inline function row(p: usize, n: i32): v128 { return v128.load(p + (n << 5)); }
@inline function put(p: usize, n: i32, v: v128): void { v128.store(p + (n << 5), v); }
@inline function is(p: usize, n: i32): v128 { return f64x2.gt(row(p, n), f64x2.splat(0.5)); }

// Read from memory once a call, as in math.ts.
const table: usize = memory.data<f64>([1, 2, 1e-6, 0.999999, 0.01]);

/** What of two lanes the detector of a band listens to: of a pair the louder side. */
@inline function louderSide(d: v128, paired: v128): v128 {
  const other = v128.shuffle<i64>(d, d, 1, 0);
  return v128.bitselect(other, d, v128.and(paired, f64x2.gt(f64x2.abs(other), f64x2.abs(d))));
}

/** Level that the detector hears: its filter's band, or the whole. */
@inline function levelOf(heard: v128, kRest: v128, v1: v128, v2: v128, isBell: v128, isLow: v128, isWhole: v128): v128 {
  const kv1 = f64x2.mul(kRest, v1);
  const above = f64x2.sub(f64x2.sub(heard, kv1), v2);
  const inBand = v128.bitselect(v2, v128.bitselect(kv1, above, isBell), isLow);
  return f64x2.abs(v128.bitselect(heard, inBand, isWhole));
}

/** The share of its range that a band has gone, a frame later; the last millionths are none. */
@inline function shareAfter(share: v128, goal: v128, speed: v128, one: v128, nearZero: v128, nearOne: v128): v128 {
  const moved = f64x2.add(goal, f64x2.mul(speed, f64x2.sub(share, goal)));
  const some = v128.and(moved, f64x2.ge(moved, nearZero));
  return v128.bitselect(one, some, f64x2.gt(some, nearOne));
}

/** The numerator of the filter at a gain of `a` squared: what of its first integrator and of its second is heard. */
@inline function firstHeard(k: v128, a: v128, square: v128, one: v128, isHigh: v128, isBell: v128): v128 {
  return v128.bitselect(f64x2.mul(k, f64x2.sub(square, one)),
    v128.bitselect(f64x2.mul(f64x2.mul(k, f64x2.sub(one, a)), a), f64x2.mul(k, f64x2.sub(a, one)), isHigh), isBell);
}
@inline function secondHeard(square: v128, one: v128, isHigh: v128, isBell: v128): v128 {
  return v128.andnot(v128.bitselect(f64x2.sub(one, square), f64x2.sub(square, one), isHigh), isBell);
}

/** Keeps what a band holds from call to call. */
@inline function keepStates(s: usize, h1: v128, h2: v128, z1: v128, z2: v128): void {
  put(s, HEARD1, flushed(h1));
  put(s, HEARD2, flushed(h2));
  put(s, Z1, flushed(z1));
  put(s, Z2, flushed(z2));
}
@inline function keepGain(s: usize, held: v128, share: v128, gain: v128, designed: v128): void {
  put(s, HELD, held);
  put(s, SHARE, share);
  put(s, GAIN, gain);
  put(s, DESIGNED, designed);
}
@inline function keepFilter(s: usize, a1: v128, a2: v128, a3: v128, m0: v128, m1: v128, m2: v128): void {
  put(s, A1, a1);
  put(s, A2, a2);
  put(s, A3, a3);
  put(s, M0, m0);
  put(s, M1, m1);
  put(s, M2, m2);
}

/** One band over two lanes: x is changed in place, `detector` is the signal before the latency. */
function twoLanes(p: usize, s: usize, detector: usize, struck: usize, x: usize, frames: i32): void {
  const isLow = is(p, IS_LOW), isHigh = is(p, IS_HIGH), isBell = is(p, IS_BELL), byLevel = is(p, BY_LEVEL), paired = is(p, PAIRED), isWhole = is(p, IS_WHOLE);
  const works = v128.or(v128.or(isLow, isHigh), isBell);
  const gRest = row(p, G), kRest = row(p, K), d1 = row(p, D1), d2 = row(p, D2), d3 = row(p, D3), rest = row(p, REST), range = row(p, RANGE);
  const threshold = row(p, THRESHOLD), attack = row(p, ATTACK), release = row(p, RELEASE), holdFrames = row(p, HOLD);
  const one = v128.load64_splat(table), two = v128.load64_splat(table + 8), zero = f64x2.splat(0);
  const nearZero = v128.load64_splat(table + 16), nearOne = v128.load64_splat(table + 24), heardDb = v128.load64_splat(table + 32);
  let h1 = row(s, HEARD1), h2 = row(s, HEARD2), z1 = row(s, Z1), z2 = row(s, Z2);
  let held = row(s, HELD), share = row(s, SHARE), gain = row(s, GAIN), designed = row(s, DESIGNED);
  let a1 = row(s, A1), a2 = row(s, A2), a3 = row(s, A3), m0 = row(s, M0), m1 = row(s, M1), m2 = row(s, M2);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    const d = f64x2.promote_low_f32x4(v128.load64_zero(detector + o));
    const heard = louderSide(d, paired);
    const v3 = f64x2.sub(heard, h2);
    const v1 = f64x2.add(f64x2.mul(d1, h1), f64x2.mul(d2, v3));
    const v2 = f64x2.add(h2, f64x2.add(f64x2.mul(d2, h1), f64x2.mul(d3, v3)));
    h1 = f64x2.sub(f64x2.mul(two, v1), h1);
    h2 = f64x2.sub(f64x2.mul(two, v2), h2);
    const level = levelOf(heard, kRest, v1, v2, isBell, isLow, isWhole);
    let opens = v128.and(byLevel, f64x2.ge(level, threshold));
    if (struck) opens = v128.or(opens, i64x2.extend_low_i32x4_s(v128.load64_zero(struck + o)));
    held = v128.bitselect(holdFrames, f64x2.pmax(f64x2.sub(held, one), zero), opens);
    const moved = f64x2.gt(held, zero);
    const goal = v128.and(one, moved);
    share = shareAfter(share, goal, v128.bitselect(attack, release, moved), one, nearZero, nearOne);
    gain = f64x2.add(rest, f64x2.mul(range, share));
    // A hundredth of a dB is not heard; the filter is designed anew only beyond it.
    const far = v128.not(f64x2.lt(f64x2.abs(f64x2.sub(gain, designed)), heardDb));
    if (v128.any_true(far)) {
      const a = exp2Double(f64x2.mul(gain, f64x2.splat(0.5 * 0.16609640474436813)));
      const root = f64x2.sqrt(a);
      const g = v128.bitselect(f64x2.mul(gRest, root), v128.bitselect(f64x2.div(gRest, root), gRest, isLow), isHigh);
      const k = v128.bitselect(f64x2.div(kRest, a), kRest, isBell);
      const b1 = f64x2.div(one, f64x2.add(one, f64x2.mul(g, f64x2.add(g, k))));
      const b2 = f64x2.mul(g, b1);
      const square = f64x2.mul(a, a);
      const n1 = firstHeard(k, a, square, one, isHigh, isBell);
      const n2 = secondHeard(square, one, isHigh, isBell);
      a1 = v128.bitselect(b1, a1, far);
      a2 = v128.bitselect(b2, a2, far);
      a3 = v128.bitselect(f64x2.mul(g, b2), a3, far);
      m0 = v128.bitselect(v128.bitselect(square, one, isHigh), m0, far);
      m1 = v128.bitselect(n1, m1, far);
      m2 = v128.bitselect(n2, m2, far);
      designed = v128.bitselect(gain, designed, far);
    }
    const v = f64x2.promote_low_f32x4(v128.load64_zero(x + o));
    const w3 = f64x2.sub(v, z2);
    const w1 = f64x2.add(f64x2.mul(a1, z1), f64x2.mul(a2, w3));
    const w2 = f64x2.add(z2, f64x2.add(f64x2.mul(a2, z1), f64x2.mul(a3, w3)));
    z1 = f64x2.sub(f64x2.mul(two, w1), z1);
    z2 = f64x2.sub(f64x2.mul(two, w2), z2);
    const y = f64x2.add(f64x2.mul(m0, v), f64x2.add(f64x2.mul(m1, w1), f64x2.mul(m2, w2)));
    v128.store64_lane(x + o, f32x4.demote_f64x2_zero(v128.bitselect(y, v, works)), 0);
  }
  keepStates(s, h1, h2, z1, z2);
  keepGain(s, held, share, gain, designed);
  keepFilter(s, a1, a2, a3, m0, m1, m2);
}

/** One band of the dynamic EQ, in place over x. The scalar reference is processors/dynamicEq/dynamicEq.ts. */
export function dynamicBand(p: usize, s: usize, detector: usize, struck: usize, x: usize, frames: i32): void {
  twoLanes(p, s, detector, struck, x, frames);
  twoLanes(p + 16, s + 16, detector + 8, struck ? struck + 8 : 0, x + 8, frames);
}
