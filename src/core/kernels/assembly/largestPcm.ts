// Magnitudes of whole numbers as they lie in a file, lowest byte first; 16 bytes of zeros follow the last.

/** The largest of a vector's four numbers without sign. */
@inline function largestOf(v: v128): f64 {
  const low = max(<u32>i32x4.extract_lane(v, 0), <u32>i32x4.extract_lane(v, 1));
  const high = max(<u32>i32x4.extract_lane(v, 2), <u32>i32x4.extract_lane(v, 3));
  return <f64>max(low, high);
}

/** Largest magnitude of `count` numbers of three bytes at x, full scale 2^31. */
export function largest24(x: usize, count: i32): f64 {
  const end = x + 3 * <usize>count, zero = i32x4.splat(0);
  let most = zero;
  for (; x < end; x += 12) {
    const four = v128.shuffle<u8>(v128.load(x), zero, 16, 0, 1, 2, 16, 3, 4, 5, 16, 6, 7, 8, 16, 9, 10, 11);
    most = i32x4.max_u(most, i32x4.abs(four));
  }
  return largestOf(most);
}

/** Largest magnitude of `count` numbers of two bytes at x, full scale 2^15. */
export function largest16(x: usize, count: i32): f64 {
  const end = x + 2 * <usize>count;
  let most = i32x4.splat(0);
  for (; x < end; x += 16) most = i16x8.max_u(most, i16x8.abs(v128.load(x)));
  return largestOf(i32x4.max_u(i32x4.extend_low_i16x8_u(most), i32x4.extend_high_i16x8_u(most)));
}
