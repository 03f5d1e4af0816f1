import { flushed, high, join, low, promoteHigh, promoteLow, putHigh, putLow } from "./lanes";

/** Rows of a section: b0, b1, b2, a1, a2, then its two states. */
const rows = 7;

/** One section over one block, transposed direct form II in 64 bits. */
function section(p: usize, x: usize, frames: i32): void {
  const b0l = low(p, 0), b1l = low(p, 1), b2l = low(p, 2), a1l = low(p, 3), a2l = low(p, 4);
  const b0h = high(p, 0), b1h = high(p, 1), b2h = high(p, 2), a1h = high(p, 3), a2h = high(p, 4);
  let z1l = low(p, 5), z2l = low(p, 6), z1h = high(p, 5), z2h = high(p, 6);
  for (let i = 0; i < frames; i++) {
    const o = x + (<usize>i << 4);
    const v = v128.load(o);
    const vl = promoteLow(v);
    const vh = promoteHigh(v);
    const yl = f64x2.add(f64x2.mul(b0l, vl), z1l);
    const yh = f64x2.add(f64x2.mul(b0h, vh), z1h);
    z1l = f64x2.sub(f64x2.add(f64x2.mul(b1l, vl), z2l), f64x2.mul(a1l, yl));
    z1h = f64x2.sub(f64x2.add(f64x2.mul(b1h, vh), z2h), f64x2.mul(a1h, yh));
    z2l = f64x2.sub(f64x2.mul(b2l, vl), f64x2.mul(a2l, yl));
    z2h = f64x2.sub(f64x2.mul(b2h, vh), f64x2.mul(a2h, yh));
    v128.store(o, join(yl, yh));
  }
  putLow(p, 5, flushed(z1l));
  putLow(p, 6, flushed(z2l));
  putHigh(p, 5, flushed(z1h));
  putHigh(p, 6, flushed(z2h));
}

/** Two sections at once over two of the lanes: the second does not wait for the first to end the block. */
function twoSections(p: usize, q: usize, x: usize, frames: i32): void {
  const b0 = v128.load(p), b1 = v128.load(p + 32), b2 = v128.load(p + 64), a1 = v128.load(p + 96), a2 = v128.load(p + 128);
  const d0 = v128.load(q), d1 = v128.load(q + 32), d2 = v128.load(q + 64), c1 = v128.load(q + 96), c2 = v128.load(q + 128);
  let z1 = v128.load(p + 160), z2 = v128.load(p + 192), w1 = v128.load(q + 160), w2 = v128.load(q + 192);
  for (let i = 0; i < frames; i++) {
    const o = x + (<usize>i << 4);
    const v = f64x2.promote_low_f32x4(v128.load64_zero(o));
    const y = f64x2.add(f64x2.mul(b0, v), z1);
    z1 = f64x2.sub(f64x2.add(f64x2.mul(b1, v), z2), f64x2.mul(a1, y));
    z2 = f64x2.sub(f64x2.mul(b2, v), f64x2.mul(a2, y));
    const u = f64x2.add(f64x2.mul(d0, y), w1);
    w1 = f64x2.sub(f64x2.add(f64x2.mul(d1, y), w2), f64x2.mul(c1, u));
    w2 = f64x2.sub(f64x2.mul(d2, y), f64x2.mul(c2, u));
    v128.store64_lane(o, f32x4.demote_f64x2_zero(u), 0);
  }
  v128.store(p + 160, flushed(z1));
  v128.store(p + 192, flushed(z2));
  v128.store(q + 160, flushed(w1));
  v128.store(q + 192, flushed(w2));
}

/** Biquad sections in a row, in place; those whose bit in `used` is not set change nothing and are left out. */
export function cascade(p: usize, used: i32, x: usize, frames: i32): void {
  const bytes: usize = rows * 32;
  let first: usize = 0;
  for (; used != 0; p += bytes, used >>>= 1) {
    if (!(used & 1)) continue;
    if (first == 0) first = p;
    else {
      twoSections(first, p, x, frames);
      twoSections(first + 16, p + 16, x + 8, frames);
      first = 0;
    }
  }
  if (first != 0) section(first, x, frames);
}
