// Spectra of eight windows at once: four lanes of a vector hold four complex signals, each of two real windows.

/** One butterfly of decimation in time between two rows of the work, twiddle wr + i wi. */
function butterfly(a: usize, b: usize, wr: v128, wi: v128): void {
  const br = v128.load(b), bi = v128.load(b, 16);
  const tr = f32x4.sub(f32x4.mul(br, wr), f32x4.mul(bi, wi));
  const ti = f32x4.add(f32x4.mul(br, wi), f32x4.mul(bi, wr));
  const ar = v128.load(a), ai = v128.load(a, 16);
  v128.store(a, f32x4.add(ar, tr));
  v128.store(a, f32x4.add(ai, ti), 16);
  v128.store(b, f32x4.sub(ar, tr));
  v128.store(b, f32x4.sub(ai, ti), 16);
}

/** Four samples that lie `step` bytes apart. */
function gathered(x: usize, step: usize): v128 {
  let v = v128.load32_zero(x);
  v = v128.load32_lane(x + step, v, 1);
  v = v128.load32_lane(x + 2 * step, v, 2);
  return v128.load32_lane(x + 3 * step, v, 3);
}

/**
 * Sums of the squared magnitudes of eight windowed spectra over bands of bins, unnormalised, times four.
 * x: samples of the first window, the others `hop` frames further each; size: a power of two. tables: window, cos and -sin of
 * 2 pi k / size for k < size / 2, bit-reversed places (bytes of a work row), first bins of the bands and the last band's end.
 * work: size rows of 32 bytes. out: by band the eight windows in the order even, odd: 0, 2, 4, 6, 1, 3, 5, 7.
 */
export function bandPowers(x: usize, hop: i32, size: i32, tables: usize, work: usize, bands: i32, out: usize): void {
  const window = tables;
  const cos = window + (<usize>size << 2);
  const sin = cos + (<usize>size << 1);
  const places = sin + (<usize>size << 1);
  const edges = places + (<usize>size << 2);
  const next = <usize>hop << 2;
  const pair = next << 1;
  for (let i = 0; i < size; i++) {
    const at = <usize>i << 2;
    const w = v128.load32_splat(window + at);
    const row = work + <usize>load<u32>(places + at);
    v128.store(row, f32x4.mul(gathered(x + at, pair), w));
    v128.store(row, f32x4.mul(gathered(x + at + next, pair), w), 16);
  }
  const end = work + (<usize>size << 5);
  let stride = <usize>size << 1; // bytes between the twiddles of one stage
  for (let half: usize = 32; half < <usize>size << 5; half <<= 1, stride >>= 1) {
    for (let k: usize = 0, t: usize = 0; k < half; k += 32, t += stride) {
      const wr = v128.load32_splat(cos + t), wi = v128.load32_splat(sin + t);
      for (let a = work + k; a < end; a += half << 1) butterfly(a, a + half, wr, wi);
    }
  }
  for (let b = 0; b < bands; b++) {
    const from = load<i32>(edges + (<usize>b << 2));
    const to = load<i32>(edges + (<usize>(b + 1) << 2));
    let even = f32x4.splat(0), odd = f32x4.splat(0);
    for (let k = from; k < to; k++) {
      const p = work + (<usize>k << 5);
      const m = work + (<usize>((size - k) & (size - 1)) << 5);
      const re = v128.load(p), im = v128.load(p, 16), mre = v128.load(m), mim = v128.load(m, 16);
      const sr = f32x4.add(re, mre), di = f32x4.sub(im, mim), dr = f32x4.sub(re, mre), si = f32x4.add(im, mim);
      even = f32x4.add(even, f32x4.add(f32x4.mul(sr, sr), f32x4.mul(di, di)));
      odd = f32x4.add(odd, f32x4.add(f32x4.mul(dr, dr), f32x4.mul(si, si)));
    }
    v128.store(out + (<usize>b << 5), even);
    v128.store(out + (<usize>b << 5), odd, 16);
  }
}
