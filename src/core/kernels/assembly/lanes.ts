// Four channels run side by side, one in each lane of a 128-bit vector: frame i of all four lies at x + 16 * i as 32-bit
// floats. Parameters and states that need 64 bits lie in rows of four doubles: lane 0 and 1 first, then lane 2 and 3.

/** Lanes 0 and 1 of a row. */
@inline export function low(p: usize, row: i32): v128 { return v128.load(p + (row << 5)); }
/** Lanes 2 and 3 of a row. */
@inline export function high(p: usize, row: i32): v128 { return v128.load(p + (row << 5), 16); }
@inline export function putLow(p: usize, row: i32, v: v128): void { v128.store(p + (row << 5), v); }
@inline export function putHigh(p: usize, row: i32, v: v128): void { v128.store(p + (row << 5), v, 16); }

@inline export function promoteLow(x: v128): v128 { return f64x2.promote_low_f32x4(x); }
@inline export function promoteHigh(x: v128): v128 { return f64x2.promote_low_f32x4(v128.shuffle<i64>(x, x, 1, 1)); }
/** Four floats from two pairs of doubles. */
@inline export function join(a: v128, b: v128): v128 {
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(a), f32x4.demote_f64x2_zero(b), 0, 2);
}
/** A row as four floats. */
@inline export function floats(p: usize, row: i32): v128 { return join(low(p, row), high(p, row)); }
/** A row of zeros and ones as a mask. */
@inline export function mask(p: usize, row: i32): v128 { return f32x4.gt(floats(p, row), f32x4.splat(0.5)); }
/** The other channel of a stereo pair. */
@inline export function partner(x: v128): v128 { return v128.shuffle<f32>(x, x, 1, 0, 3, 2); }
@inline export function maskLow(m: v128): v128 { return v128.shuffle<i32>(m, m, 0, 0, 1, 1); }
@inline export function maskHigh(m: v128): v128 { return v128.shuffle<i32>(m, m, 2, 2, 3, 3); }
/** A long decay would reach denormals, which are slow. */
@inline export function flushed(z: v128): v128 {
  return v128.and(z, f64x2.ge(f64x2.abs(z), f64x2.splat(1e-18)));
}

/** Four planar channels into lanes. */
export function interleave(a: usize, b: usize, c: usize, d: usize, x: usize, frames: i32): void {
  for (let i = 0; i < frames; i += 4) {
    const o: usize = <usize>i << 2;
    const va = v128.load(a + o);
    const vb = v128.load(b + o);
    const vc = v128.load(c + o);
    const vd = v128.load(d + o);
    const ab0 = v128.shuffle<f32>(va, vb, 0, 4, 1, 5);
    const ab1 = v128.shuffle<f32>(va, vb, 2, 6, 3, 7);
    const cd0 = v128.shuffle<f32>(vc, vd, 0, 4, 1, 5);
    const cd1 = v128.shuffle<f32>(vc, vd, 2, 6, 3, 7);
    const y: usize = x + (<usize>i << 4);
    v128.store(y, v128.shuffle<i64>(ab0, cd0, 0, 2));
    v128.store(y, v128.shuffle<i64>(ab0, cd0, 1, 3), 16);
    v128.store(y, v128.shuffle<i64>(ab1, cd1, 0, 2), 32);
    v128.store(y, v128.shuffle<i64>(ab1, cd1, 1, 3), 48);
  }
}

/** Lanes into four planar channels. */
export function deinterleave(x: usize, a: usize, b: usize, c: usize, d: usize, frames: i32): void {
  for (let i = 0; i < frames; i += 4) {
    const o: usize = <usize>i << 2;
    const s: usize = x + (<usize>i << 4);
    const v0 = v128.load(s);
    const v1 = v128.load(s, 16);
    const v2 = v128.load(s, 32);
    const v3 = v128.load(s, 48);
    const ab0 = v128.shuffle<f32>(v0, v1, 0, 4, 1, 5);
    const cd0 = v128.shuffle<f32>(v0, v1, 2, 6, 3, 7);
    const ab1 = v128.shuffle<f32>(v2, v3, 0, 4, 1, 5);
    const cd1 = v128.shuffle<f32>(v2, v3, 2, 6, 3, 7);
    v128.store(a + o, v128.shuffle<i64>(ab0, ab1, 0, 2));
    v128.store(b + o, v128.shuffle<i64>(ab0, ab1, 1, 3));
    v128.store(c + o, v128.shuffle<i64>(cd0, cd1, 0, 2));
    v128.store(d + o, v128.shuffle<i64>(cd0, cd1, 1, 3));
  }
}

/** y becomes x, `length` frames late. The ring holds `length` frames; returns where it goes on. */
export function hold(ring: usize, length: i32, at: i32, x: usize, y: usize, frames: i32): i32 {
  if (length == 0) {
    if (x != y) memory.copy(y, x, <usize>frames << 4);
    return 0;
  }
  for (let i = 0; i < frames; i++) {
    const r = ring + (<usize>at << 4);
    const v = v128.load(x + (<usize>i << 4));
    v128.store(y + (<usize>i << 4), v128.load(r));
    v128.store(r, v);
    at = at + 1 == length ? 0 : at + 1;
  }
  return at;
}

/**
 * Delay in place by as many frames as row 0 of `waits` holds for each lane. `ring`: `size` frames of four lanes, a power of
 * two above every wait; `at`: where it is written. Gives the next place.
 */
export function wait(ring: usize, size: i32, at: i32, waits: usize, x: usize, frames: i32): i32 {
  const w = i32x4.trunc_sat_f32x4_s(floats(waits, 0));
  const w0 = i32x4.extract_lane(w, 0), w1 = i32x4.extract_lane(w, 1), w2 = i32x4.extract_lane(w, 2), w3 = i32x4.extract_lane(w, 3);
  const last = size - 1;
  for (let i = 0; i < frames; i++) {
    const o = x + (<usize>i << 4);
    v128.store(ring + (<usize>at << 4), v128.load(o));
    let now = v128.load32_zero(ring + (<usize>((at - w0) & last) << 4));
    now = v128.load_lane<i32>(ring + (<usize>((at - w1) & last) << 4), now, 1, 4);
    now = v128.load_lane<i32>(ring + (<usize>((at - w2) & last) << 4), now, 2, 8);
    now = v128.load_lane<i32>(ring + (<usize>((at - w3) & last) << 4), now, 3, 12);
    v128.store(o, now);
    at = (at + 1) & last;
  }
  return at;
}

/** Multiplies by gains that glide from row 0 to row 1 of p within the block; row 0 is then row 1. */
export function glideGain(x: usize, p: usize, frames: i32): void {
  const from = floats(p, 0);
  const to = floats(p, 1);
  if (!v128.any_true(f32x4.ne(from, to))) {
    for (let i = 0; i < frames; i++) {
      const o = x + (<usize>i << 4);
      v128.store(o, f32x4.mul(v128.load(o), to));
    }
    return;
  }
  const step = f32x4.div(f32x4.sub(to, from), f32x4.splat(<f32>frames));
  for (let i = 0; i < frames; i++) {
    const o = x + (<usize>i << 4);
    const gain = f32x4.add(from, f32x4.mul(step, f32x4.splat(<f32>(i + 1))));
    v128.store(o, f32x4.mul(v128.load(o), gain));
  }
  putLow(p, 0, low(p, 1));
  putHigh(p, 0, high(p, 1));
}

/** Adds x to y in the lanes whose row holds 1. */
export function addChosen(p: usize, x: usize, y: usize, frames: i32): void {
  const chosen = mask(p, 0);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    v128.store(y + o, f32x4.add(v128.load(y + o), v128.and(chosen, v128.load(x + o))));
  }
}

/** Crossfade x = share * x + (1 - share) * dry; rows of p: share now, step a frame. The share stays in 0..1. */
export function fade(x: usize, dry: usize, p: usize, frames: i32): void {
  let share = floats(p, 0);
  const step = floats(p, 1);
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    share = f32x4.pmin(f32x4.pmax(f32x4.add(share, step), zero), one);
    const d = v128.load(dry + o);
    // All the way on the dry side nothing of the other may leak in, not even a NaN.
    const w = v128.load(x + o);
    const wet = v128.bitselect(f32x4.sub(w, d), zero, f32x4.gt(share, zero));
    const mixed = f32x4.add(d, f32x4.mul(share, wet));
    // All the way on the other it is that to the bit, whatever its neighbours in the vector do.
    v128.store(x + o, v128.bitselect(w, mixed, f32x4.ge(share, one)));
  }
  putLow(p, 0, promoteLow(share));
  putHigh(p, 0, promoteHigh(share));
}

/** Bits of the lanes that hold anything that is no finite number. */
export function unfinite(x: usize, frames: i32): i32 {
  let bad = f32x4.splat(0);
  for (let i = 0; i < frames; i++) bad = f32x4.add(bad, f32x4.mul(v128.load(x + (<usize>i << 4)), f32x4.splat(0)));
  return i32x4.bitmask(f32x4.ne(bad, f32x4.splat(0)));
}

@inline function place(v: v128, lane: usize, p: usize, out: usize, peaks: usize, count: usize, i: usize, ramp: v128): void {
  const leftFrom = <f32>load<f64>(p + (lane << 3));
  const leftStep = <f32>load<f64>(p + 32 + (lane << 3));
  const rightFrom = <f32>load<f64>(p + 64 + (lane << 3));
  const rightStep = <f32>load<f64>(p + 96 + (lane << 3));
  const l = f32x4.mul(v, f32x4.add(f32x4.splat(leftFrom), f32x4.mul(f32x4.splat(leftStep), ramp)));
  const r = f32x4.mul(v, f32x4.add(f32x4.splat(rightFrom), f32x4.mul(f32x4.splat(rightStep), ramp)));
  const to = out + (lane << 1) * count * 4 + (i << 2);
  v128.store(to, l);
  v128.store(to + count * 4, r);
  const peak = peaks + (lane << 4);
  v128.store(peak, f32x4.pmax(v128.load(peak), f32x4.pmax(f32x4.abs(l), f32x4.abs(r))));
}

/**
 * Lanes into a left and a right channel each. Rows of p: gain of the left now, its step a frame, the same of the right.
 * `out` holds the planar channels left and right of lane 0, of lane 1 and so on; `peaks` four floats a lane that rise
 * to the largest sample.
 */
export function spread(x: usize, p: usize, out: usize, peaks: usize, frames: i32): void {
  const count = <usize>frames;
  for (let i: usize = 0; i < count; i += 4) {
    const s = x + (i << 4);
    const v0 = v128.load(s), v1 = v128.load(s, 16), v2 = v128.load(s, 32), v3 = v128.load(s, 48);
    const ab0 = v128.shuffle<f32>(v0, v1, 0, 4, 1, 5), cd0 = v128.shuffle<f32>(v0, v1, 2, 6, 3, 7);
    const ab1 = v128.shuffle<f32>(v2, v3, 0, 4, 1, 5), cd1 = v128.shuffle<f32>(v2, v3, 2, 6, 3, 7);
    const ramp = f32x4.add(f32x4.splat(<f32>i), f32x4(1, 2, 3, 4));
    place(v128.shuffle<i64>(ab0, ab1, 0, 2), 0, p, out, peaks, count, i, ramp);
    place(v128.shuffle<i64>(ab0, ab1, 1, 3), 1, p, out, peaks, count, i, ramp);
    place(v128.shuffle<i64>(cd0, cd1, 0, 2), 2, p, out, peaks, count, i, ramp);
    place(v128.shuffle<i64>(cd0, cd1, 1, 3), 3, p, out, peaks, count, i, ramp);
  }
}

/** Adds x to y with a gain that glides. Shape: both two planar channels of `frames` frames, one after the other. */
export function addStereo(x: usize, y: usize, from: f32, to: f32, frames: i32): void {
  const step = f32x4.splat((to - from) / <f32>frames);
  const start = f32x4.splat(from);
  const four = f32x4.splat(4);
  const bytes = <usize>frames << 2;
  if (from == to) {
    for (let o: usize = 0; o < 2 * bytes; o += 16)
      v128.store(y + o, f32x4.add(v128.load(y + o), f32x4.mul(start, v128.load(x + o))));
    return;
  }
  for (let ch: usize = 0; ch < 2 * bytes; ch += bytes) {
    let ramp = f32x4(1, 2, 3, 4);
    for (let o = ch; o < ch + bytes; o += 16) {
      const gain = f32x4.add(start, f32x4.mul(step, ramp));
      v128.store(y + o, f32x4.add(v128.load(y + o), f32x4.mul(gain, v128.load(x + o))));
      ramp = f32x4.add(ramp, four);
    }
  }
}
