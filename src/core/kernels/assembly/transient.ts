import { floats, flushed, high, join, low, mask, maskHigh, maskLow, partner, promoteHigh, promoteLow, putHigh, putLow } from "./lanes";
import { decibels, exp2Floats } from "./math";
import { WHOLE_DB, SILENT, ATTACK, SUSTAIN, RISE, FALL, TAIL, MOVE, BY_HITS, PAIRED, USED, OUTPUT, NEAR, SLOW, LONG, GAIN, PREFIX } from "../../processors/transient/rows";

/** A gain nearer to nothing than this is none, dB. */
const least: f32 = 1e-6;
/** Octaves of amplitude in a decibel. */
const octaves: f32 = 0.16609640474436813;

/** Distance of two envelopes as a share of the whole, 0 to 1. */
@inline function share(al: v128, ah: v128, bl: v128, bh: v128): v128 {
  const s = f64x2.splat(SILENT), zero = f64x2.splat(0), far = f64x2.splat(1e30);
  // Where there is no stroke the quotient is 1, above nothing it is far: both without a branch.
  const ql = v128.bitselect(v128.bitselect(f64x2.div(al, bl), far, f64x2.gt(bl, zero)), f64x2.splat(1), v128.and(f64x2.ge(al, s), f64x2.gt(al, bl)));
  const qh = v128.bitselect(v128.bitselect(f64x2.div(ah, bh), far, f64x2.gt(bh, zero)), f64x2.splat(1), v128.and(f64x2.ge(ah, s), f64x2.gt(ah, bh)));
  return f32x4.pmin(f32x4.mul(decibels(join(ql, qh)), f32x4.splat(<f32>(1.0 / <f64>WHOLE_DB))), f32x4.splat(1));
}

/**
 * What one band asks for: writes the gain of every frame into `gains`, dB, adds the held peaks to `peaks` and raises `most` to
 * the gains. `ring`: `length` frames of peaks, in which `at` is the next place; gives the place after. `known`: for lanes that go
 * by hits, what is left of the attack and of the tail at each frame, two lines one after the other; or 0.
 * The largest of the last frames: van Herk, Pattern Recognition Letters 13, 1992. The scalar reference is processors/transient.
 */
export function transientBand(p: usize, s: usize, ring: usize, length: i32, at: i32, known: usize, x: usize, gains: usize, peaks: usize, most: usize, frames: i32): i32 {
  const attack = floats(p, ATTACK), sustain = floats(p, SUSTAIN), move = floats(p, MOVE);
  const rl = low(p, RISE), rh = high(p, RISE), fl = low(p, FALL), fh = high(p, FALL), tl = low(p, TAIL), th = high(p, TAIL);
  const byHits = mask(p, BY_HITS), paired = mask(p, PAIRED), used = mask(p, USED);
  const zero = f32x4.splat(0), one = f32x4.splat(1), tiny = f32x4.splat(least);
  let nl = low(s, NEAR), nh = high(s, NEAR), sl = low(s, SLOW), sh = high(s, SLOW), ll = low(s, LONG), lh = high(s, LONG);
  let gain = floats(s, GAIN), prefix = floats(s, PREFIX);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    let level = f32x4.abs(v128.load(x + o));
    level = v128.bitselect(f32x4.pmax(level, partner(level)), level, paired);
    prefix = f32x4.pmax(prefix, level);
    // From this place on the ring still holds the largest of what came before the last turn.
    const older = at + 1 < length ? v128.load(ring + (<usize>(at + 1) << 4)) : zero;
    const held = f32x4.pmax(prefix, older);
    v128.store(ring + (<usize>at << 4), level);
    at++;
    if (at == length) {
      let suffix = zero;
      for (let k = length - 1; k >= 0; k--) {
        const r = ring + (<usize>k << 4);
        suffix = f32x4.pmax(suffix, v128.load(r));
        v128.store(r, suffix);
      }
      at = 0;
      prefix = zero;
    }
    const hl = promoteLow(held), hh = promoteHigh(held);
    nl = v128.bitselect(hl, f64x2.add(hl, f64x2.mul(fl, f64x2.sub(nl, hl))), f64x2.gt(hl, nl));
    nh = v128.bitselect(hh, f64x2.add(hh, f64x2.mul(fh, f64x2.sub(nh, hh))), f64x2.gt(hh, nh));
    sl = f64x2.add(hl, f64x2.mul(v128.bitselect(rl, fl, f64x2.gt(hl, sl)), f64x2.sub(sl, hl)));
    sh = f64x2.add(hh, f64x2.mul(v128.bitselect(rh, fh, f64x2.gt(hh, sh)), f64x2.sub(sh, hh)));
    ll = v128.bitselect(hl, f64x2.add(hl, f64x2.mul(tl, f64x2.sub(ll, hl))), f64x2.gt(hl, ll));
    lh = v128.bitselect(hh, f64x2.add(hh, f64x2.mul(th, f64x2.sub(lh, hh))), f64x2.gt(hh, lh));
    let wanted = f32x4.add(f32x4.mul(attack, share(nl, nh, sl, sh)), f32x4.mul(sustain, share(ll, lh, nl, nh)));
    if (known) {
      const fresh = v128.load(known + o), tail = v128.load(known + (<usize>frames << 4) + o);
      const struck = f32x4.add(f32x4.mul(attack, fresh), f32x4.mul(sustain, f32x4.mul(f32x4.sub(one, fresh), tail)));
      wanted = v128.bitselect(struck, wanted, byHits);
    }
    gain = f32x4.add(wanted, f32x4.mul(move, f32x4.sub(gain, wanted)));
    gain = v128.and(gain, f32x4.ge(f32x4.abs(gain), tiny));
    v128.store(gains + o, gain);
    v128.store(peaks + o, f32x4.add(v128.load(peaks + o), v128.and(held, used)));
    v128.store(most + o, f32x4.pmax(v128.load(most + o), v128.and(gain, used)));
  }
  putLow(s, NEAR, flushed(nl)); putHigh(s, NEAR, flushed(nh));
  putLow(s, SLOW, flushed(sl)); putHigh(s, SLOW, flushed(sh));
  putLow(s, LONG, flushed(ll)); putHigh(s, LONG, flushed(lh));
  putLow(s, GAIN, promoteLow(gain)); putHigh(s, GAIN, promoteHigh(gain));
  putLow(s, PREFIX, promoteLow(prefix)); putHigh(s, PREFIX, promoteHigh(prefix));
  return at;
}

/** Adds a band with its gains to y, in the lanes that have it. A lift ends where the held peaks of all bands reach full scale. */
export function transientApply(p: usize, gains: usize, peaks: usize, most: usize, x: usize, y: usize, frames: i32): void {
  const output = floats(p, OUTPUT), used = mask(p, USED);
  const zero = f32x4.splat(0), none = f32x4.splat(1e9), quiet = f32x4.splat(<f32>SILENT), k = f32x4.splat(octaves);
  for (let i = 0; i < frames; i++) {
    const o: usize = <usize>i << 4;
    const peak = v128.load(peaks + o);
    const lifted = v128.and(f32x4.gt(v128.load(most + o), zero), f32x4.gt(peak, quiet));
    const room = v128.bitselect(f32x4.pmax(zero, f32x4.neg(decibels(f32x4.pmax(peak, quiet)))), none, lifted);
    const gain = exp2Floats(f32x4.mul(k, f32x4.add(f32x4.pmin(v128.load(gains + o), room), output)));
    v128.store(y + o, f32x4.add(v128.load(y + o), v128.and(used, f32x4.mul(v128.load(x + o), gain))));
  }
}
