import { at } from "./rateFilters";

/** Half the length of the interpolators, frames, and instants between two frames. */
const half = 12, between = 3;

/**
 * True peak around each frame of four lanes, `half` frames late: of the frame and the next, and of the instants between them,
 * where any lane comes near `worth`, a quarter of the peak that counts, a float a lane. `line` holds 2 `half` frames of the past
 * and the block; `taps`: 2 `half` of each instant. The scalar reference is PeakReader of processors/limiter.
 */
export function truePeaks(taps: usize, line: usize, worth: usize, peaks: usize, frames: i32): void {
  const least = v128.load(worth);
  for (let i = 0; i < frames; i++) {
    const from = i + 1;
    const sample = f32x4.pmax(f32x4.abs(v128.load(at(line, from + half - 1))), f32x4.abs(v128.load(at(line, from + half))));
    let peak = sample;
    const near = f32x4.ge(sample, least);
    if (v128.any_true(near)) {
      let tap = taps, most = f32x4.splat(0);
      for (let n = 0; n < between; n++) {
        let a = f32x4.splat(0), b = f32x4.splat(0);
        let x = at(line, from);
        for (let t = 0; t < 2 * half; t += 2) {
          a = f32x4.add(a, f32x4.mul(v128.load32_splat(tap), v128.load(x)));
          b = f32x4.add(b, f32x4.mul(v128.load32_splat(tap, 4), v128.load(x, 16)));
          tap += 8;
          x += 32;
        }
        most = f32x4.pmax(most, f32x4.abs(f32x4.add(a, b)));
      }
      peak = v128.bitselect(f32x4.pmax(sample, most), sample, near);
    }
    v128.store(at(peaks, i), peak);
  }
  memory.copy(line, at(line, frames), <usize>(2 * half) << 4);
}

/** y = x times a gain a frame and lane. */
export function multiply(x: usize, gains: usize, y: usize, frames: i32): void {
  for (let i = 0; i < frames; i++) v128.store(at(y, i), f32x4.mul(v128.load(at(x, i)), v128.load(at(gains, i))));
}
