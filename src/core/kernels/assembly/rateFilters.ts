// Filters by which lanes go to twice their rate and back: the scalar reference is signal/rateFilters.ts.

/** Pairs of taps of the steep filters: see signal/oversampler.ts. */
export const upPairs = 24, downPairs = 64, widePairs = 6;
/** Longest block, frames. */
export const most = 128;

@inline export function at(p: usize, frame: i32): usize { return p + (<usize>frame << 4); }

/**
 * Symmetric taps: tap k weighs x[mid + i + k] and x[mid + i - gap - k]; writes y[i * stride]. Four frames at a time share the
 * taps, and what one tap has read serves the next: four taps a turn, so that the names can go round.
 */
@inline export function symmetric(taps: usize, pairs: i32, x: usize, mid: i32, gap: i32, y: usize, stride: i32, gain: f32, frames: i32): void {
  const g = f32x4.splat(gain);
  for (let i = 0; i < frames; i += 4) {
    let s0 = f32x4.splat(0), s1 = f32x4.splat(0), s2 = f32x4.splat(0), s3 = f32x4.splat(0);
    let up = at(x, mid + i);
    let down = up - (<usize>gap << 4);
    let tap = taps;
    const end = taps + (<usize>pairs << 2);
    let u0 = v128.load(up), u1 = v128.load(up, 16), u2 = v128.load(up, 32);
    let d1 = v128.load(down, 16), d2 = v128.load(down, 32), d3 = v128.load(down, 48);
    while (tap + 16 <= end) {
      let t = v128.load32_splat(tap);
      const u3 = v128.load(up, 48), d0 = v128.load(down);
      s0 = f32x4.add(s0, f32x4.mul(t, f32x4.add(u0, d0)));
      s1 = f32x4.add(s1, f32x4.mul(t, f32x4.add(u1, d1)));
      s2 = f32x4.add(s2, f32x4.mul(t, f32x4.add(u2, d2)));
      s3 = f32x4.add(s3, f32x4.mul(t, f32x4.add(u3, d3)));
      t = v128.load32_splat(tap, 4);
      u0 = v128.load(up, 64);
      d3 = v128.load(down - 16);
      s0 = f32x4.add(s0, f32x4.mul(t, f32x4.add(u1, d3)));
      s1 = f32x4.add(s1, f32x4.mul(t, f32x4.add(u2, d0)));
      s2 = f32x4.add(s2, f32x4.mul(t, f32x4.add(u3, d1)));
      s3 = f32x4.add(s3, f32x4.mul(t, f32x4.add(u0, d2)));
      t = v128.load32_splat(tap, 8);
      u1 = v128.load(up, 80);
      d2 = v128.load(down - 32);
      s0 = f32x4.add(s0, f32x4.mul(t, f32x4.add(u2, d2)));
      s1 = f32x4.add(s1, f32x4.mul(t, f32x4.add(u3, d3)));
      s2 = f32x4.add(s2, f32x4.mul(t, f32x4.add(u0, d0)));
      s3 = f32x4.add(s3, f32x4.mul(t, f32x4.add(u1, d1)));
      t = v128.load32_splat(tap, 12);
      u2 = v128.load(up, 96);
      d1 = v128.load(down - 48);
      s0 = f32x4.add(s0, f32x4.mul(t, f32x4.add(u3, d1)));
      s1 = f32x4.add(s1, f32x4.mul(t, f32x4.add(u0, d2)));
      s2 = f32x4.add(s2, f32x4.mul(t, f32x4.add(u1, d3)));
      s3 = f32x4.add(s3, f32x4.mul(t, f32x4.add(u2, d0)));
      // The next turn begins four taps further and finds u0, u1, u2 and d1, d2, d3 as it wants them.
      up += 64;
      down -= 64;
      tap += 16;
    }
    for (; tap < end; tap += 4) {
      const t = v128.load32_splat(tap);
      s0 = f32x4.add(s0, f32x4.mul(t, f32x4.add(v128.load(up), v128.load(down))));
      s1 = f32x4.add(s1, f32x4.mul(t, f32x4.add(v128.load(up, 16), v128.load(down, 16))));
      s2 = f32x4.add(s2, f32x4.mul(t, f32x4.add(v128.load(up, 32), v128.load(down, 32))));
      s3 = f32x4.add(s3, f32x4.mul(t, f32x4.add(v128.load(up, 48), v128.load(down, 48))));
      up += 16;
      down -= 16;
    }
    v128.store(at(y, i * stride), f32x4.mul(g, s0));
    v128.store(at(y, (i + 1) * stride), f32x4.mul(g, s1));
    v128.store(at(y, (i + 2) * stride), f32x4.mul(g, s2));
    v128.store(at(y, (i + 3) * stride), f32x4.mul(g, s3));
  }
}

/** Doubles the rate: the line's new frames already lie behind its past. */
@inline export function double(taps: usize, pairs: i32, line: usize, y: usize, frames: i32): void {
  for (let i = 0; i < frames; i++) v128.store(at(y, 2 * i + 1), v128.load(at(line, pairs + i)));
  symmetric(taps, pairs, line, pairs, 1, y, 2, 2, frames);
  memory.copy(line, at(line, frames), <usize>(2 * pairs - 1) << 4);
}

/** Halves the rate of what lies behind the past of two lines, its even and its odd frames, into y. */
@inline export function halveLines(taps: usize, pairs: i32, even: usize, odd: usize, y: usize, frames: i32): void {
  const past = 2 * pairs - 1;
  symmetric(taps, pairs, even, pairs, 1, y, 1, 1, frames);
  const half = f32x4.splat(0.5);
  for (let i = 0; i < frames; i++)
    v128.store(at(y, i), f32x4.add(v128.load(at(y, i)), f32x4.mul(half, v128.load(at(odd, pairs + i - 1)))));
  memory.copy(even, at(even, frames), <usize>past << 4);
  memory.copy(odd, at(odd, frames), <usize>past << 4);
}

/** Halves the rate of x into y. */
@inline export function halve(taps: usize, pairs: i32, even: usize, odd: usize, x: usize, y: usize, frames: i32): void {
  const past = 2 * pairs - 1;
  for (let i = 0; i < frames; i++) {
    v128.store(at(even, past + i), v128.load(at(x, 2 * i)));
    v128.store(at(odd, past + i), v128.load(at(x, 2 * i + 1)));
  }
  halveLines(taps, pairs, even, odd, y, frames);
}

/**
 * Halves the rate of x into y by a short filter of 4 `pairs` + 1 taps: those at odd distances from the middle, at even
 * ones, the middle. Both lines hold 2 `pairs` frames of the past. `more`: place of one block.
 */
@inline export function halveShort(taps: usize, pairs: i32, even: usize, odd: usize, x: usize, y: usize, more: usize, frames: i32): void {
  const past = 2 * pairs;
  for (let i = 0; i < frames; i++) {
    v128.store(at(even, past + i), v128.load(at(x, 2 * i)));
    v128.store(at(odd, past + i), v128.load(at(x, 2 * i + 1)));
  }
  symmetric(taps, pairs, odd, pairs, 1, y, 1, 1, frames);
  symmetric(taps + (<usize>pairs << 2), pairs, even, pairs + 1, 2, more, 1, 1, frames);
  const middle = v128.load32_splat(taps + (<usize>(2 * pairs) << 2));
  for (let i = 0; i < frames; i++) {
    const o = at(y, i);
    const sides = f32x4.add(v128.load(o), v128.load(at(more, i)));
    v128.store(o, f32x4.add(sides, f32x4.mul(middle, v128.load(at(even, pairs + i)))));
  }
  memory.copy(even, at(even, frames), <usize>past << 4);
  memory.copy(odd, at(odd, frames), <usize>past << 4);
}

/** Late by one frame, in place; `held`: place of one frame. */
@inline export function oneLate(held: usize, x: usize, frames: i32): void {
  let last = v128.load(held);
  for (let i = 0; i < frames; i++) {
    const o = at(x, i);
    const v = v128.load(o);
    v128.store(o, last);
    last = v;
  }
  v128.store(held, last);
}
