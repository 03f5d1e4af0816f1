import { floats, high, join, low, mask, maskHigh, maskLow, partner, putHigh, putLow } from "./lanes";
import { UP, DOWN, BY_LEVEL, PAIRED, HOLD, WAIT, ATTACK, RELEASE, FLOOR, OPEN, HELD, GAIN } from "../../processors/gate/rows";

/** Decisions that wait for the look-ahead, in frames; a power of two. */
const waiting = 2048;

/**
 * Gate: x becomes dry times the gain that the detector asks for. `struck` holds a mask a frame of what the hits open, or
 * is 0. `wait` is a ring of decisions, `at` where it is written. The scalar reference is processors/gate/gate.ts.
 */
export function gate(p: usize, s: usize, wait: usize, at: i32, detector: usize, struck: usize, dry: usize, x: usize, frames: i32): void {
  const up = floats(p, UP), down = floats(p, DOWN), byLevel = mask(p, BY_LEVEL), paired = mask(p, PAIRED);
  const holdFrames = floats(p, HOLD);
  const w = i32x4.trunc_sat_f32x4_s(floats(p, WAIT));
  const w0 = i32x4.extract_lane(w, 0), w1 = i32x4.extract_lane(w, 1), w2 = i32x4.extract_lane(w, 2), w3 = i32x4.extract_lane(w, 3);
  const al = low(p, ATTACK), ah = high(p, ATTACK), rl = low(p, RELEASE), rh = high(p, RELEASE), fl = low(p, FLOOR), fh = high(p, FLOOR);
  const one = f64x2.splat(1), zero = f32x4.splat(0), oneFloat = f32x4.splat(1);
  let open = mask(s, OPEN), held = floats(s, HELD), gl = low(s, GAIN), gh = high(s, GAIN);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    let level = f32x4.abs(v128.load(detector + o));
    level = v128.bitselect(f32x4.pmax(level, partner(level)), level, paired);
    let opens = v128.and(f32x4.ge(level, up), byLevel);
    if (struck) opens = v128.or(opens, v128.load(struck + o));
    const stays = v128.or(f32x4.gt(held, zero), v128.and(f32x4.ge(level, down), byLevel));
    open = v128.or(opens, v128.and(open, stays));
    held = v128.bitselect(holdFrames, f32x4.pmax(f32x4.sub(held, oneFloat), zero), opens);
    v128.store(wait + (<usize>at << 4), open);
    let now = v128.load32_zero(wait + (<usize>((at - w0) & (waiting - 1)) << 4));
    now = v128.load_lane<i32>(wait + (<usize>((at - w1) & (waiting - 1)) << 4), now, 1, 4);
    now = v128.load_lane<i32>(wait + (<usize>((at - w2) & (waiting - 1)) << 4), now, 2, 8);
    now = v128.load_lane<i32>(wait + (<usize>((at - w3) & (waiting - 1)) << 4), now, 3, 12);
    at = (at + 1) & (waiting - 1);
    gl = v128.bitselect(f64x2.sub(one, f64x2.mul(al, f64x2.sub(one, gl))), f64x2.add(fl, f64x2.mul(rl, f64x2.sub(gl, fl))), maskLow(now));
    gh = v128.bitselect(f64x2.sub(one, f64x2.mul(ah, f64x2.sub(one, gh))), f64x2.add(fh, f64x2.mul(rh, f64x2.sub(gh, fh))), maskHigh(now));
    v128.store(x + o, f32x4.mul(v128.load(dry + o), join(gl, gh)));
  }
  const flag = v128.and(open, oneFloat);
  putLow(s, OPEN, f64x2.promote_low_f32x4(flag));
  putHigh(s, OPEN, f64x2.promote_low_f32x4(v128.shuffle<i64>(flag, flag, 1, 1)));
  putLow(s, HELD, f64x2.promote_low_f32x4(held));
  putHigh(s, HELD, f64x2.promote_low_f32x4(v128.shuffle<i64>(held, held, 1, 1)));
  putLow(s, GAIN, gl);
  putHigh(s, GAIN, gh);
}
