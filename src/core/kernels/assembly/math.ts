// Vector forms of core/signal/fastMath.ts: the same formulas, so that kernels and scalar processors agree.

// Constants are read from memory once a call: written into the code they would be made anew in every turn of a loop.
const table: usize = memory.data<f32>([
  0.1111111111, 0.1428571429, 0.2, 0.3333333333, 2.885390081777927,
  0.6931471805599453, 0.001388888889, 0.008333333333, 0.04166666667, 0.1666666667, 0.5, 1,
]);
const bits: usize = memory.data<i32>([127, 0x7fffff, 0x3f800000]);
/** A constant of the table in all lanes: 11 is one. */
@inline export function constant(n: usize): v128 { return v128.load32_splat(table + (n << 2)); }
/** An integer constant: exponent bias, mantissa bits, bits of one. */
@inline export function whole(n: usize): v128 { return v128.load32_splat(bits + (n << 2)); }

/** Power of two of two doubles. */
@inline export function exp2Double(x: v128): v128 {
  const whole = f64x2.nearest(x);
  const f = f64x2.mul(f64x2.sub(x, whole), f64x2.splat(0.6931471805599453));
  let p = f64x2.add(f64x2.splat(0.008333333333), f64x2.mul(f, f64x2.splat(0.001388888889)));
  p = f64x2.add(f64x2.splat(0.04166666667), f64x2.mul(f, p));
  p = f64x2.add(f64x2.splat(0.1666666667), f64x2.mul(f, p));
  p = f64x2.add(f64x2.splat(0.5), f64x2.mul(f, p));
  p = f64x2.add(f64x2.splat(1), f64x2.mul(f, p));
  p = f64x2.add(f64x2.splat(1), f64x2.mul(f, p));
  const n = i64x2.extend_low_i32x4_s(i32x4.trunc_sat_f64x2_s_zero(whole));
  return f64x2.mul(p, i64x2.shl(i64x2.add(n, i64x2.splat(1023)), 52));
}

/** Decibels of four positive amplitudes. */
@inline export function decibels(x: v128): v128 {
  const one = constant(11);
  const m = v128.or(v128.and(x, i32x4.splat(0x7fffff)), i32x4.splat(0x3f800000));
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
  const t2 = f32x4.mul(t, t);
  const series = f32x4.add(one, f32x4.mul(t2, f32x4.add(constant(3), f32x4.mul(t2, f32x4.add(constant(2), f32x4.mul(t2, f32x4.add(constant(1), f32x4.mul(t2, constant(0)))))))));
  const whole = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(x, 23), i32x4.splat(127)));
  return f32x4.mul(f32x4.splat(6.020599913279624), f32x4.add(whole, f32x4.mul(constant(4), f32x4.mul(t, series))));
}

/** Power of two of four floats. */
@inline export function exp2Floats(x: v128): v128 {
  const near = f32x4.nearest(x);
  const f = f32x4.mul(f32x4.sub(x, near), constant(5));
  const one = constant(11);
  const p = f32x4.add(one, f32x4.mul(f, f32x4.add(one, f32x4.mul(f, f32x4.add(constant(10), f32x4.mul(f, f32x4.add(constant(9), f32x4.mul(f, f32x4.add(constant(8), f32x4.mul(f, f32x4.add(constant(7), f32x4.mul(f, constant(6)))))))))))));
  return f32x4.mul(p, i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(near), whole(0)), 23));
}
