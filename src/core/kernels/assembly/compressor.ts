import { flushed, floats, high, join, low, mask, partner, promoteHigh, promoteLow, putHigh, putLow } from "./lanes";
import { constant, whole } from "./math";
import { BEND, KNEE, SLOPE, CURVE, UP, DOWN, MAKEUP, WET, RMS, AVERAGE, PAIRED, BEND_LEVEL, RANGE, HOLD, SLOWLY, FEEDBACK, PROGRAMME, BOTH, REDUCTION, POWER, DEEPEST, HELD, SLOW } from "../../processors/compressor/rows";


const own: usize = memory.data<f32>([1e-30, 6.020599913279624, 0.16609640474436813, 12582912]);
const least: usize = memory.data<f64>([1e-4]);

/** True when no lane works: nothing lies above the bend and nothing is left of a reduction. Gives `gain` then. */
function idle(p: usize, s: usize, detector: usize, frames: i32): bool {
  const none = v128.or(low(s, REDUCTION), high(s, REDUCTION));
  if (v128.any_true(f64x2.ne(none, f64x2.splat(0)))) return false;
  const limit = floats(p, BEND_LEVEL);
  let over = i32x4.splat(0);
  for (let i = 0; i < frames; i++) over = v128.or(over, f32x4.gt(f32x4.abs(v128.load(detector + (<usize>i << 4))), limit));
  return !v128.any_true(over);
}

/** The pole of a smoother that listens behind its gain (compressor.ts, feedbackPole). */
@inline function behind(pole: v128, local: v128): v128 {
  const unit = f64x2.splat(1);
  return f64x2.div(pole, f64x2.add(unit, f64x2.div(f64x2.mul(f64x2.sub(unit, pole), local), f64x2.sub(unit, local))));
}

/** Frames of four lanes that one call needs for itself: what is wanted of each, and the slope of the curve there. */
export const compressorScratch: i32 = 2 * 128 * 16;

/**
 * What every frame asks to be turned down by, dB, into `wanted`; `slopes`, when `more`: the slope of the curve there.
 * Apart from the recursion behind it, so that frames do not wait for each other.
 */
function ask(p: usize, s: usize, rms: i32, more: i32, detector: usize, wanted: usize, slopes: usize, frames: i32): void {
  const bend = floats(p, BEND), knee = floats(p, KNEE), slope = floats(p, SLOPE), curve = floats(p, CURVE);
  const byRms = mask(p, RMS), byBoth = mask(p, BOTH), range = floats(p, RANGE), paired = mask(p, PAIRED);
  const ml = low(p, AVERAGE), mh = high(p, AVERAGE);
  const halfKnee = f32x4.mul(knee, f32x4.splat(0.5));
  const zero = f32x4.splat(0), tiny = v128.load32_splat(own), toDb = v128.load32_splat(own + 4);
  // The formulas of core/signal/fastMath.ts, four at a time.
  const l9 = constant(0), l7 = constant(1), l5 = constant(2), l3 = constant(3), l1 = constant(4), one = constant(11);
  const bias = whole(0), mantissa = whole(1), oneBits = whole(2);
  let pl = low(s, POWER), ph = high(s, POWER);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    const d = v128.load(detector + o);
    let level = f32x4.abs(d);
    level = v128.bitselect(f32x4.pmax(level, partner(level)), level, paired);
    if (rms) {
      const square = f32x4.mul(d, d);
      const power = v128.bitselect(f32x4.mul(f32x4.splat(0.5), f32x4.add(square, partner(square))), square, paired);
      const sl = promoteLow(power), sh = promoteHigh(power);
      pl = flushed(f64x2.add(sl, f64x2.mul(ml, f64x2.sub(pl, sl))));
      ph = flushed(f64x2.add(sh, f64x2.mul(mh, f64x2.sub(ph, sh))));
      const mean = f32x4.sqrt(join(pl, ph));
      level = v128.bitselect(v128.bitselect(f32x4.pmax(level, mean), mean, byBoth), level, byRms);
    }
    level = f32x4.pmax(level, tiny);
    const m = v128.or(v128.and(level, mantissa), oneBits);
    const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
    const t2 = f32x4.mul(t, t);
    const series = f32x4.add(one, f32x4.mul(t2, f32x4.add(l3, f32x4.mul(t2, f32x4.add(l5, f32x4.mul(t2, f32x4.add(l7, f32x4.mul(t2, l9))))))));
    const octaves = f32x4.add(f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(level, 23), bias)), f32x4.mul(l1, f32x4.mul(t, series)));
    const over = f32x4.sub(f32x4.mul(toDb, octaves), bend);
    const above = f32x4.gt(over, zero), straight = f32x4.ge(over, knee);
    const bent = v128.bitselect(f32x4.mul(slope, f32x4.sub(over, halfKnee)), f32x4.mul(curve, f32x4.mul(over, over)), straight);
    v128.store(wanted + o, f32x4.pmin(v128.and(bent, above), range));
    if (more)
      v128.store(slopes + o, v128.and(v128.bitselect(slope, f32x4.mul(f32x4.splat(2), f32x4.mul(curve, over)), straight), above));
  }
  putLow(s, POWER, pl);
  putHigh(s, POWER, ph);
}

/** The reduction that follows what is wanted, in its place, dB. */
function follow(p: usize, s: usize, wanted: usize, frames: i32): void {
  const ul = low(p, UP), uh = high(p, UP), dl = low(p, DOWN), dh = high(p, DOWN);
  const small = v128.load64_splat(least);
  let gl = low(s, REDUCTION), gh = high(s, REDUCTION);
  let deepest = f32x4.splat(0);
  for (let i = 0; i < frames; i++) {
    const o = wanted + (<usize>i << 4);
    const w = v128.load(o);
    const wl = promoteLow(w), wh = promoteHigh(w);
    gl = f64x2.add(wl, f64x2.mul(v128.bitselect(ul, dl, f64x2.gt(wl, gl)), f64x2.sub(gl, wl)));
    gh = f64x2.add(wh, f64x2.mul(v128.bitselect(uh, dh, f64x2.gt(wh, gh)), f64x2.sub(gh, wh)));
    gl = v128.and(gl, f64x2.ge(gl, small)); // a ten-thousandth of a dB is not heard
    gh = v128.and(gh, f64x2.ge(gh, small));
    const reduction = join(gl, gh);
    deepest = f32x4.pmax(deepest, reduction);
    v128.store(o, reduction);
  }
  putLow(s, REDUCTION, gl);
  putHigh(s, REDUCTION, gh);
  putLow(s, DEEPEST, promoteLow(deepest));
  putHigh(s, DEEPEST, promoteHigh(deepest));
}

/** The same where some lane holds, releases by the programme or works backwards. */
function followMore(p: usize, s: usize, wanted: usize, slopes: usize, frames: i32): void {
  const ul = low(p, UP), uh = high(p, UP), dl = low(p, DOWN), dh = high(p, DOWN);
  const small = v128.load64_splat(least);
  let gl = low(s, REDUCTION), gh = high(s, REDUCTION);
  const nothing = f64x2.splat(0), unit = f64x2.splat(1);
  const holdL = low(p, HOLD), holdH = high(p, HOLD), slowlyL = low(p, SLOWLY), slowlyH = high(p, SLOWLY);
  const backL = f64x2.ne(low(p, FEEDBACK), nothing), backH = f64x2.ne(high(p, FEEDBACK), nothing);
  const programmeL = f64x2.ne(low(p, PROGRAMME), nothing), programmeH = f64x2.ne(high(p, PROGRAMME), nothing);
  let heldL = low(s, HELD), heldH = high(s, HELD), slowL = low(s, SLOW), slowH = high(s, SLOW);
  let deepest = f32x4.splat(0);
  for (let i = 0; i < frames; i++) {
    const o = wanted + (<usize>i << 4);
    const w = v128.load(o), local = v128.load(slopes + (<usize>i << 4));
    const wl = promoteLow(w), wh = promoteHigh(w);
    const risesL = f64x2.gt(wl, gl), risesH = f64x2.gt(wh, gh);
    heldL = v128.bitselect(holdL, f64x2.max(nothing, f64x2.sub(heldL, unit)), f64x2.ge(wl, gl));
    heldH = v128.bitselect(holdH, f64x2.max(nothing, f64x2.sub(heldH, unit)), f64x2.ge(wh, gh));
    slowL = f64x2.add(wl, f64x2.mul(slowlyL, f64x2.sub(slowL, wl)));
    slowH = f64x2.add(wh, f64x2.mul(slowlyH, f64x2.sub(slowH, wh)));
    slowL = v128.and(slowL, f64x2.ge(slowL, small));
    slowH = v128.and(slowH, f64x2.ge(slowH, small));
    const poleL = v128.bitselect(ul, dl, risesL), poleH = v128.bitselect(uh, dh, risesH);
    const targetL = v128.bitselect(f64x2.max(wl, f64x2.min(slowL, gl)), wl, v128.andnot(programmeL, risesL));
    const targetH = v128.bitselect(f64x2.max(wh, f64x2.min(slowH, gh)), wh, v128.andnot(programmeH, risesH));
    const nextL = f64x2.add(targetL, f64x2.mul(v128.bitselect(behind(poleL, promoteLow(local)), poleL, backL), f64x2.sub(gl, targetL)));
    const nextH = f64x2.add(targetH, f64x2.mul(v128.bitselect(behind(poleH, promoteHigh(local)), poleH, backH), f64x2.sub(gh, targetH)));
    gl = v128.bitselect(nextL, gl, v128.or(risesL, f64x2.eq(heldL, nothing)));
    gh = v128.bitselect(nextH, gh, v128.or(risesH, f64x2.eq(heldH, nothing)));
    gl = v128.and(gl, f64x2.ge(gl, small));
    gh = v128.and(gh, f64x2.ge(gh, small));
    const reduction = join(gl, gh);
    deepest = f32x4.pmax(deepest, reduction);
    v128.store(o, reduction);
  }
  putLow(s, REDUCTION, gl);
  putHigh(s, REDUCTION, gh);
  putLow(s, HELD, heldL);
  putHigh(s, HELD, heldH);
  putLow(s, SLOW, slowL);
  putHigh(s, SLOW, slowH);
  putLow(s, DEEPEST, promoteLow(deepest));
  putHigh(s, DEEPEST, promoteHigh(deepest));
}

/** Compressor: x becomes dry times the gain that the detector asks for; `dry` and `detector` may be x. `rms`: some lane follows the mean power; `more`: some lane holds, releases by the programme or works backwards. `scratch`: place of `compressorScratch` bytes. The scalar reference is processors/compressor/compressor.ts. */
export function compressor(p: usize, s: usize, rms: i32, more: i32, scratch: usize, detector: usize, dry: usize, x: usize, frames: i32): void {
  if (!rms && !more && idle(p, s, detector, frames)) {
    // The very steps of the loop below with nothing to be turned down, so that it gives the same to the bit.
    const power = f32x4.mul(floats(p, MAKEUP), v128.load32_splat(own + 8));
    const near = f32x4.nearest(power);
    const f = f32x4.mul(f32x4.sub(power, near), constant(5));
    const up = f32x4.add(constant(11), f32x4.mul(f, f32x4.add(constant(11), f32x4.mul(f, f32x4.add(constant(10), f32x4.mul(f, f32x4.add(constant(9), f32x4.mul(f, f32x4.add(constant(8), f32x4.mul(f, f32x4.add(constant(7), f32x4.mul(f, constant(6)))))))))))));
    const gain = f32x4.mul(up, i32x4.shl(i32x4.add(f32x4.add(near, v128.load32_splat(own + 12)), whole(0)), 23));
    const wet = floats(p, WET);
    const rest = f32x4.add(f32x4.sub(f32x4.splat(1), wet), f32x4.mul(wet, gain));
    for (let i = 0; i < frames; i++) v128.store(x + (<usize>i << 4), f32x4.mul(v128.load(dry + (<usize>i << 4)), rest));
    putLow(s, DEEPEST, f64x2.splat(0));
    putHigh(s, DEEPEST, f64x2.splat(0));
    return;
  }
  const slopes = scratch + (<usize>frames << 4);
  ask(p, s, rms, more, detector, scratch, slopes, frames);
  if (more) followMore(p, s, scratch, slopes, frames);
  else follow(p, s, scratch, frames);
  const makeup = floats(p, MAKEUP), wet = floats(p, WET);
  const straight = f32x4.sub(f32x4.splat(1), wet);
  const toOctaves = v128.load32_splat(own + 8), magic = v128.load32_splat(own + 12);
  const e1 = constant(5), e6 = constant(6), e5 = constant(7), e4 = constant(8), e3 = constant(9), e2 = constant(10), one = constant(11);
  const bias = whole(0);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    const power = f32x4.mul(f32x4.sub(makeup, v128.load(scratch + o)), toOctaves);
    const near = f32x4.nearest(power);
    const f = f32x4.mul(f32x4.sub(power, near), e1);
    const curveUp = f32x4.add(one, f32x4.mul(f, f32x4.add(one, f32x4.mul(f, f32x4.add(e2, f32x4.mul(f, f32x4.add(e3, f32x4.mul(f, f32x4.add(e4, f32x4.mul(f, f32x4.add(e5, f32x4.mul(f, e6))))))))))));
    // 2^near without the costly conversion: near + 1.5 * 2^23 has the whole number in its lowest bits.
    const gain = f32x4.mul(curveUp, i32x4.shl(i32x4.add(f32x4.add(near, magic), bias), 23));
    v128.store(x + o, f32x4.mul(v128.load(dry + o), f32x4.add(straight, f32x4.mul(wet, gain))));
  }
}
