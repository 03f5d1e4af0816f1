// Bends of no memory: the scalar reference is processors/saturation/saturation.ts.

@inline export function soft(x: v128): v128 {
  const v = f32x4.pmax(f32x4.pmin(x, f32x4.splat(3)), f32x4.splat(-3));
  const v2 = f32x4.mul(v, v);
  const twentySeven = f32x4.splat(27);
  return f32x4.div(f32x4.mul(v, f32x4.add(twentySeven, v2)), f32x4.add(twentySeven, f32x4.mul(f32x4.splat(9), v2)));
}
@inline export function rounded(x: v128): v128 {
  return f32x4.div(x, f32x4.sqrt(f32x4.add(f32x4.splat(1), f32x4.mul(x, x))));
}
@inline export function hard(x: v128): v128 {
  const v = f32x4.pmax(f32x4.pmin(x, f32x4.splat(1)), f32x4.splat(-1));
  const v2 = f32x4.mul(v, v);
  const inner = f32x4.add(f32x4.splat(15), f32x4.mul(v2, f32x4.sub(f32x4.mul(f32x4.splat(3), v2), f32x4.splat(10))));
  return f32x4.mul(f32x4.splat(0.125), f32x4.mul(v, inner));
}
