import { floats, mask } from "./lanes";
import { DRIVE, BIAS, CENTRE, WET, STRAIGHT, HARD, ROUNDED } from "../../processors/saturation/rows";

// Pairs of taps of the half-band filters: see signal/oversampler.ts.
const upPairs = 24, downPairs = 64, widePairs = 6;
/** Longest block, frames. */
const most = 128;
// Where the lines of the filters lie in the state, in bytes; each holds its past and then one block.
const upSteep: usize = 0;
const upWide: usize = upSteep + <usize>(2 * upPairs - 1 + most) * 16;
const downWideEven: usize = upWide + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downWideOdd: usize = downWideEven + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downSteepEven: usize = downWideOdd + <usize>(2 * widePairs - 1 + 2 * most) * 16;
const downSteepOdd: usize = downSteepEven + <usize>(2 * downPairs - 1 + most) * 16;
const held: usize = downSteepOdd + <usize>(2 * downPairs - 1 + most) * 16;
/** Bytes of the state. */
export const saturationState: i32 = <i32>held + 16;
/** Bytes that one call needs for itself; shared by all. */
export const saturationScratch: i32 = (2 + 4) * most * 16;

@inline function at(p: usize, frame: i32): usize { return p + (<usize>frame << 4); }

/**
 * The symmetric taps around the middles mid, mid + 1 …; writes y[i * stride]. Four frames at a time share the taps, and
 * what one tap has read serves the next: four taps a turn, so that the names can go round.
 */
@inline function symmetric(taps: usize, pairs: i32, x: usize, y: usize, stride: i32, gain: f32, frames: i32): void {
  const g = f32x4.splat(gain);
  for (let i = 0; i < frames; i += 4) {
    let s0 = f32x4.splat(0), s1 = f32x4.splat(0), s2 = f32x4.splat(0), s3 = f32x4.splat(0);
    let up = at(x, pairs + i);
    let down = up - 16;
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
@inline function double(taps: usize, pairs: i32, line: usize, y: usize, frames: i32): void {
  for (let i = 0; i < frames; i++) v128.store(at(y, 2 * i + 1), v128.load(at(line, pairs + i)));
  symmetric(taps, pairs, line, y, 2, 2, frames);
  memory.copy(line, at(line, frames), <usize>(2 * pairs - 1) << 4);
}

/** Halves the rate of x into y. */
@inline function halve(taps: usize, pairs: i32, even: usize, odd: usize, x: usize, y: usize, frames: i32): void {
  const past = 2 * pairs - 1;
  for (let i = 0; i < frames; i++) {
    v128.store(at(even, past + i), v128.load(at(x, 2 * i)));
    v128.store(at(odd, past + i), v128.load(at(x, 2 * i + 1)));
  }
  symmetric(taps, pairs, even, y, 1, 1, frames);
  const half = f32x4.splat(0.5);
  for (let i = 0; i < frames; i++)
    v128.store(at(y, i), f32x4.add(v128.load(at(y, i)), f32x4.mul(half, v128.load(at(odd, pairs + i - 1)))));
  memory.copy(even, at(even, frames), <usize>past << 4);
  memory.copy(odd, at(odd, frames), <usize>past << 4);
}

@inline function soft(x: v128): v128 {
  const v = f32x4.pmax(f32x4.pmin(x, f32x4.splat(3)), f32x4.splat(-3));
  const v2 = f32x4.mul(v, v);
  const twentySeven = f32x4.splat(27);
  return f32x4.div(f32x4.mul(v, f32x4.add(twentySeven, v2)), f32x4.add(twentySeven, f32x4.mul(f32x4.splat(9), v2)));
}
@inline function rounded(x: v128): v128 {
  return f32x4.div(x, f32x4.sqrt(f32x4.add(f32x4.splat(1), f32x4.mul(x, x))));
}
@inline function hard(x: v128): v128 {
  const v = f32x4.pmax(f32x4.pmin(x, f32x4.splat(1)), f32x4.splat(-1));
  const v2 = f32x4.mul(v, v);
  const inner = f32x4.add(f32x4.splat(15), f32x4.mul(v2, f32x4.sub(f32x4.mul(f32x4.splat(3), v2), f32x4.splat(10))));
  return f32x4.mul(f32x4.splat(0.125), f32x4.mul(v, inner));
}

/**
 * Saturation at four times the rate, x in place; `dry` is x as late as the result. `characters`: bits 1 soft, 2 rounded,
 * 4 hard of those that some lane has. The taps of the three half-band filters follow each other: up, wide, down.
 * The scalar reference is processors/saturation/saturation.ts with signal/oversampler.ts.
 */
export function saturation(p: usize, s: usize, taps: usize, scratch: usize, characters: i32, dry: usize, x: usize, frames: i32): void {
  const up = taps, wide = taps + <usize>upPairs * 4, down = wide + <usize>widePairs * 4;
  const twice = scratch, fast = scratch + <usize>(2 * most) * 16;
  memory.copy(at(s + upSteep, 2 * upPairs - 1), x, <usize>frames << 4);
  double(up, upPairs, s + upSteep, twice, frames);
  memory.copy(at(s + upWide, 2 * widePairs - 1), twice, <usize>(2 * frames) << 4);
  double(wide, widePairs, s + upWide, fast, 2 * frames);

  const drive = floats(p, DRIVE), bias = floats(p, BIAS), centre = floats(p, CENTRE);
  const isHard = mask(p, HARD), isRounded = mask(p, ROUNDED);
  if (characters == 1)
    for (let i = 0; i < 4 * frames; i++) {
      const o = at(fast, i);
      v128.store(o, f32x4.sub(soft(f32x4.add(f32x4.mul(drive, v128.load(o)), bias)), centre));
    }
  else
    for (let i = 0; i < 4 * frames; i++) {
      const o = at(fast, i);
      const v = f32x4.add(f32x4.mul(drive, v128.load(o)), bias);
      const bent = v128.bitselect(hard(v), v128.bitselect(rounded(v), soft(v), isRounded), isHard);
      v128.store(o, f32x4.sub(bent, centre));
    }

  halve(wide, widePairs, s + downWideEven, s + downWideOdd, fast, twice, 2 * frames);
  let last = v128.load(s + held);
  for (let i = 0; i < 2 * frames; i++) {
    const o = at(twice, i);
    const v = v128.load(o);
    v128.store(o, last);
    last = v;
  }
  v128.store(s + held, last);
  halve(down, downPairs, s + downSteepEven, s + downSteepOdd, twice, x, frames);
  const wet = floats(p, WET), straight = floats(p, STRAIGHT);
  for (let i = 0; i < frames; i++)
    v128.store(at(x, i), f32x4.add(f32x4.mul(wet, v128.load(at(x, i))), f32x4.mul(straight, v128.load(at(dry, i)))));
}
