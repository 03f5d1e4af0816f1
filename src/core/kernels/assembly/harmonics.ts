import { at } from "./rateFilters";
import { hard, rounded, soft } from "./bends";
import { floats, flushed, high, join, low, mask, partner, promoteHigh, promoteLow, putHigh, putLow } from "./lanes";
import { BEND_ROUNDED, BEND_HARD, BEND_FOLDED, BEND_ONE_SIDED, BEND_SQUARED, DRIVE, ODD, EVEN, HARD, ROUNDED, FOLDED, ONE_SIDED, SQUARED, MATCHED, OUTPUT, AVERAGING, PAIRED, CAME, MADE } from "../../processors/harmonics/rows";

const turn: f32 = 6.2831855;
/** What is missing from `turn`. */
const turnRest: f32 = -1.7484556e-7;

/** Sine, to 1e-7 for arguments that 24 bits can tell apart. Source  Taylor series over a quarter turn. */
@inline function sine(x: v128): v128 {
  const turns = f32x4.nearest(f32x4.mul(x, f32x4.splat(0.15915494)));
  const r = f32x4.sub(f32x4.sub(x, f32x4.mul(turns, f32x4.splat(turn))), f32x4.mul(turns, f32x4.splat(turnRest)));
  // Beyond a quarter turn the sine is that of what is missing to half a one.
  const sign = v128.and(r, i32x4.splat(0x80000000));
  const a = f32x4.abs(r);
  const folded = f32x4.pmin(a, f32x4.sub(f32x4.splat(3.1415927), a));
  const v = v128.or(folded, sign);
  const v2 = f32x4.mul(v, v);
  let p = f32x4.add(f32x4.splat(2.7557319e-6), f32x4.mul(v2, f32x4.splat(-2.5052108e-8)));
  p = f32x4.add(f32x4.splat(-1.984127e-4), f32x4.mul(v2, p));
  p = f32x4.add(f32x4.splat(8.333333e-3), f32x4.mul(v2, p));
  p = f32x4.add(f32x4.splat(-0.16666667), f32x4.mul(v2, p));
  return f32x4.add(v, f32x4.mul(v, f32x4.mul(v2, p)));
}

/** What bends add to a sound, x into y: the scalar reference is processors/harmonics. See `bend` for the rest. */
@inline export function bendHarmonics(p: usize, characters: i32, drives: usize, shift: i32, x: usize, y: usize, frames: i32): void {
  const odd = floats(p, ODD), even = floats(p, EVEN), half = f32x4.splat(0.5), inner = f32x4.splat(8.0 / 15.0);
  const isHard = mask(p, HARD), isRounded = mask(p, ROUNDED), isFolded = mask(p, FOLDED), isOne = mask(p, ONE_SIDED), isSquared = mask(p, SQUARED);
  let drive = floats(p, DRIVE);
  for (let i = 0; i < frames; i++) {
    if (drives) drive = v128.load(at(drives, i >> shift));
    const v = f32x4.mul(drive, v128.load(at(x, i)));
    let bent = soft(v);
    if (characters & BEND_ROUNDED) bent = v128.bitselect(rounded(v), bent, isRounded);
    if (characters & BEND_HARD) bent = v128.bitselect(hard(f32x4.mul(inner, v)), bent, isHard);
    if (characters & BEND_FOLDED) bent = v128.bitselect(sine(v), bent, isFolded);
    let first = f32x4.sub(bent, v);
    let second = f32x4.mul(half, f32x4.mul(v, bent));
    if (characters & BEND_ONE_SIDED) {
      const amount = f32x4.abs(v);
      first = v128.bitselect(f32x4.mul(half, first), first, isOne);
      second = v128.bitselect(f32x4.mul(half, f32x4.sub(soft(amount), amount)), second, isOne);
    }
    if (characters & BEND_SQUARED) second = v128.bitselect(f32x4.mul(bent, bent), second, isSquared);
    v128.store(at(y, i), f32x4.div(f32x4.add(f32x4.mul(odd, first), f32x4.mul(even, second)), drive));
  }
}

/** Power of a lane, or of both channels of a pair. */
@inline function power(v: v128, paired: v128): v128 {
  const square = f32x4.mul(v, v);
  return v128.bitselect(f32x4.add(square, partner(square)), square, paired);
}

/** Output gain, and in lanes that match, as loud as `dry`: x in place. */
export function matchLevels(p: usize, s: usize, dry: usize, x: usize, frames: i32): void {
  const matched = mask(p, MATCHED), output = floats(p, OUTPUT), paired = mask(p, PAIRED);
  const kl = low(p, AVERAGING), kh = high(p, AVERAGING), one = f32x4.splat(1);
  const most = f32x4.splat(8), least = f32x4.splat(0.125), quiet = f64x2.splat(1e-12), unit = f64x2.splat(1);
  let cl = low(s, CAME), ch = high(s, CAME), ml = low(s, MADE), mh = high(s, MADE);
  for (let i = 0; i < frames; i++) {
    const v = v128.load(at(x, i));
    const came = power(v128.load(at(dry, i)), paired), made = power(v, paired);
    const il = promoteLow(came), ih = promoteHigh(came), ol = promoteLow(made), oh = promoteHigh(made);
    cl = f64x2.add(il, f64x2.mul(kl, f64x2.sub(cl, il)));
    ch = f64x2.add(ih, f64x2.mul(kh, f64x2.sub(ch, ih)));
    ml = f64x2.add(ol, f64x2.mul(kl, f64x2.sub(ml, ol)));
    mh = f64x2.add(oh, f64x2.mul(kh, f64x2.sub(mh, oh)));
    const gl = v128.bitselect(f64x2.sqrt(f64x2.div(cl, ml)), unit, f64x2.gt(ml, quiet));
    const gh = v128.bitselect(f64x2.sqrt(f64x2.div(ch, mh)), unit, f64x2.gt(mh, quiet));
    const wanted = f32x4.pmin(f32x4.pmax(join(gl, gh), least), most);
    v128.store(at(x, i), f32x4.mul(v, f32x4.mul(output, v128.bitselect(wanted, one, matched))));
  }
  putLow(s, CAME, flushed(cl)); putHigh(s, CAME, flushed(ch));
  putLow(s, MADE, flushed(ml)); putHigh(s, MADE, flushed(mh));
}
