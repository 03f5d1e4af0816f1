// Looks at four real signals at once, in 64 bits: two complex signals lie in the two lanes of a vector, each of two real
// ones. Row k of a spectrum is 32 bytes: the real parts of both, then the imaginary parts. The real parts are signals 0 and 2,
// the imaginary parts 1 and 3. Tables: window (size doubles), cos and -sin of 2 pi k / size for k < size / 2, then bit-reversed
// places of rows (size words of bytes).

@inline function cosOf(tables: usize, size: i32): usize { return tables + (<usize>size << 3); }
@inline function placesOf(tables: usize, size: i32): usize { return tables + (<usize>size << 4); }

/** Transforms rows that lie bit-reversed, in place: decimation in time (Cooley and Tukey 1965). */
function transform(rows: usize, size: i32, tables: usize): void {
  const cos = cosOf(tables, size), sin = cos + (<usize>size << 2);
  const end = rows + (<usize>size << 5);
  let stride = <usize>size << 2; // bytes between the twiddles of one stage
  for (let half: usize = 32; half < <usize>size << 5; half <<= 1, stride >>= 1)
    for (let k: usize = 0, t: usize = 0; k < half; k += 32, t += stride) {
      const wr = v128.load64_splat(cos + t), wi = v128.load64_splat(sin + t);
      for (let a = rows + k; a < end; a += half << 1) {
        const b = a + half;
        const br = v128.load(b), bi = v128.load(b, 16);
        const tr = f64x2.sub(f64x2.mul(br, wr), f64x2.mul(bi, wi));
        const ti = f64x2.add(f64x2.mul(br, wi), f64x2.mul(bi, wr));
        const ar = v128.load(a), ai = v128.load(a, 16);
        v128.store(a, f64x2.add(ar, tr));
        v128.store(a, f64x2.add(ai, ti), 16);
        v128.store(b, f64x2.sub(ar, tr));
        v128.store(b, f64x2.sub(ai, ti), 16);
      }
    }
}

/** One frame of two signals, times the window; what is no number is silence. */
@inline function windowed(a: usize, b: usize, w: v128): v128 {
  const x = f64x2.promote_low_f32x4(v128.load32_lane(b, v128.load32_zero(a), 1));
  return f64x2.mul(w, v128.and(x, f64x2.eq(f64x2.sub(x, x), f64x2.splat(0))));
}

/** Windowed spectra of four signals of `size` floats, one behind the other at x, into the rows of `spectrum`. */
export function lookSpectra(x: usize, size: i32, tables: usize, spectrum: usize): void {
  const next = <usize>size << 2;
  const places = placesOf(tables, size);
  for (let i = 0; i < size; i++) {
    const at = x + (<usize>i << 2);
    const w = v128.load64_splat(tables + (<usize>i << 3));
    const row = spectrum + <usize>load<u32>(places + (<usize>i << 2));
    v128.store(row, windowed(at, at + 2 * next, w));
    v128.store(row, windowed(at + next, at + 3 * next, w), 16);
  }
  transform(spectrum, size, tables);
}

/** A value of both lanes into the rows of two signals, which lie two rows of `bytes` apart. */
@inline function storeApart(out: usize, bytes: usize, v: v128): void {
  v128.store64_lane(out, v, 0);
  v128.store64_lane(out + 2 * bytes, v, 1);
}

/**
 * Mean energies of four spectra by band: `scale` times the sums of squared magnitudes, and `floor`.
 * edges: first bin of every band and the last one's end, within size / 2 + 1. out: a row of `bands` doubles a signal.
 */
export function lookPowers(spectrum: usize, size: i32, edges: usize, bands: i32, scale: f64, floor: f64, out: usize): void {
  const quarter = f64x2.splat(0.25 * scale), least = f64x2.splat(floor);
  const bytes = <usize>bands << 3;
  for (let b = 0; b < bands; b++) {
    const to = load<i32>(edges + (<usize>(b + 1) << 2));
    let even = f64x2.splat(0), odd = f64x2.splat(0);
    for (let k = load<i32>(edges + (<usize>b << 2)); k < to; k++) {
      const p = spectrum + (<usize>k << 5);
      const m = spectrum + (<usize>((size - k) & (size - 1)) << 5);
      const re = v128.load(p), im = v128.load(p, 16), mre = v128.load(m), mim = v128.load(m, 16);
      const sr = f64x2.add(re, mre), di = f64x2.sub(im, mim), dr = f64x2.sub(re, mre), si = f64x2.add(im, mim);
      even = f64x2.add(even, f64x2.add(f64x2.mul(sr, sr), f64x2.mul(di, di)));
      odd = f64x2.add(odd, f64x2.add(f64x2.mul(dr, dr), f64x2.mul(si, si)));
    }
    const at = out + (<usize>b << 3);
    storeApart(at, bytes, f64x2.add(f64x2.mul(even, quarter), least));
    storeApart(at + bytes, bytes, f64x2.add(f64x2.mul(odd, quarter), least));
  }
}

/** The values of two signals, two rows of `bytes` apart. */
@inline function loadApart(at: usize, bytes: usize): v128 {
  return v128.load64_lane(at + 2 * bytes, v128.load64_zero(at), 1);
}

/**
 * Puts four spectra through gains of their bands and adds their sound, windowed once more, to what overlaps it.
 * gains: a row of `bands` doubles a signal; they move in straight lines: between the bins first[b] and first[b + 1] from gain b
 * to gain b + 1 by the share of the bin. spectrum stays. work: size rows. sum: size rows of what overlaps; its first half is whole
 * then, goes to `next` as size / 2 floats a signal, and the rest moves there.
 */
export function lookSound(spectrum: usize, size: i32, tables: usize, gains: usize, bands: i32, first: usize, shares: usize, work: usize, sum: usize, next: usize): void {
  const places = placesOf(tables, size);
  const bytes = <usize>bands << 3;
  const half = f64x2.splat(0.5);
  for (let b = 0; b < bands - 1; b++) {
    const row = gains + (<usize>b << 3);
    const ga = loadApart(row, bytes), gb = loadApart(row + bytes, bytes);
    const da = f64x2.sub(loadApart(row + 8, bytes), ga), db = f64x2.sub(loadApart(row + 8 + bytes, bytes), gb);
    const to = load<i32>(first + (<usize>(b + 1) << 2));
    for (let k = load<i32>(first + (<usize>b << 2)); k < to; k++) {
      const share = v128.load64_splat(shares + (<usize>k << 3));
      const a = f64x2.add(ga, f64x2.mul(share, da)), c = f64x2.add(gb, f64x2.mul(share, db));
      const s = f64x2.mul(half, f64x2.add(a, c)), d = f64x2.mul(half, f64x2.sub(a, c));
      const mirror = (size - k) & (size - 1);
      const p = spectrum + (<usize>k << 5), m = spectrum + (<usize>mirror << 5);
      const re = v128.load(p), im = v128.load(p, 16), mre = v128.load(m), mim = v128.load(m, 16);
      // Real and imaginary parts change places: the transform then gives the inverse, changed likewise.
      const to1 = work + <usize>load<u32>(places + (<usize>k << 2)), to2 = work + <usize>load<u32>(places + (<usize>mirror << 2));
      v128.store(to1, f64x2.sub(f64x2.mul(s, im), f64x2.mul(d, mim)));
      v128.store(to1, f64x2.add(f64x2.mul(s, re), f64x2.mul(d, mre)), 16);
      v128.store(to2, f64x2.sub(f64x2.mul(s, mim), f64x2.mul(d, im)));
      v128.store(to2, f64x2.add(f64x2.mul(s, mre), f64x2.mul(d, re)), 16);
    }
  }
  transform(work, size, tables);
  const scale = f64x2.splat(1 / <f64>size);
  const middle = size >> 1;
  const apart = <usize>middle << 2;
  for (let i = 0; i < middle; i++) {
    const early = <usize>i << 5, late = <usize>(i + middle) << 5;
    const w = f64x2.mul(scale, v128.load64_splat(tables + (<usize>i << 3)));
    const v = f64x2.mul(scale, v128.load64_splat(tables + (<usize>(i + middle) << 3)));
    const even = f32x4.demote_f64x2_zero(f64x2.add(v128.load(sum + early), f64x2.mul(w, v128.load(work + early, 16))));
    const odd = f32x4.demote_f64x2_zero(f64x2.add(v128.load(sum + early, 16), f64x2.mul(w, v128.load(work + early))));
    const at = next + (<usize>i << 2);
    v128.store32_lane(at, even, 0);
    v128.store32_lane(at + apart, odd, 0);
    v128.store32_lane(at + 2 * apart, even, 1);
    v128.store32_lane(at + 3 * apart, odd, 1);
    v128.store(sum + early, f64x2.mul(v, v128.load(work + late, 16)));
    v128.store(sum + early, f64x2.mul(v, v128.load(work + late)), 16);
  }
}
