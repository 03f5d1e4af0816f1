/**
 * One planar channel through a ring whose first `margin` frames are repeated behind its end, so that any window can be
 * read in one piece. Writes `frames` of x at frame `at`.
 */
export function record(ring: usize, size: i32, margin: i32, at: i32, x: usize, frames: i32): void {
  memory.copy(ring + (<usize>at << 2), x, <usize>frames << 2);
  if (at < margin) memory.copy(ring + (<usize>(size + at) << 2), x, <usize>frames << 2);
}

/** y becomes x. */
export function copyFloats(x: usize, y: usize, frames: i32): void {
  memory.copy(y, x, <usize>frames << 2);
}

/** x becomes zero. */
export function clearFloats(x: usize, frames: i32): void {
  memory.fill(x, 0, <usize>frames << 2);
}

/** y[i] = sum of taps[t] x[i + t] over one planar channel, eight outputs at a time. */
export function convolve(taps: usize, count: i32, x: usize, y: usize, frames: i32): void {
  for (let i = 0; i < frames; i += 8) {
    let a = f32x4.splat(0);
    let b = f32x4.splat(0);
    let from = x + (<usize>i << 2);
    for (let t = 0; t < count; t++) {
      const tap = v128.load32_splat(taps + (<usize>t << 2));
      a = f32x4.add(a, f32x4.mul(tap, v128.load(from)));
      b = f32x4.add(b, f32x4.mul(tap, v128.load(from, 16)));
      from += 4;
    }
    v128.store(y + (<usize>i << 2), a);
    v128.store(y + (<usize>i << 2), b, 16);
  }
}

/** y becomes a + sign * b; y may be either. */
export function addFloats(a: usize, b: usize, sign: f32, y: usize, frames: i32): void {
  const s = f32x4.splat(sign);
  const end = <usize>frames << 2;
  for (let o: usize = 0; o < end; o += 16)
    v128.store(y + o, f32x4.add(v128.load(a + o), f32x4.mul(s, v128.load(b + o))));
}
