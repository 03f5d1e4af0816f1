/** Sum of the products of two rows of 64-bit numbers; count even. */
function dot(a: usize, b: usize, bytes: usize): f64 {
  let s = f64x2.splat(0);
  for (let o: usize = 0; o < bytes; o += 16) s = f64x2.add(s, f64x2.mul(v128.load(a + o), v128.load(b + o)));
  return f64x2.extract_lane(s, 0) + f64x2.extract_lane(s, 1);
}

/**
 * Multiplicative steps towards activations that explain what is heard (core/hits/judge/activations.ts), all in 64 bits.
 * problem: heard with the floor, floor, weights, then the predicted, the pull and the hold (scratch), `rows` numbers each; prints:
 * one row a source; state: activations, then what they may be at most. rows: even.
 */
export function explain(problem: usize, rows: i32, prints: usize, sources: i32, state: usize, steps: i32, largest: f64): void {
  const bytes = <usize>rows << 3;
  const heard = problem, floor = heard + bytes, weights = floor + bytes, predicted = weights + bytes, pull = predicted + bytes, hold = pull + bytes;
  const most = state + (<usize>sources << 3);
  const limit = f64x2.splat(largest);
  for (let step = 0; step < steps; step++) {
    memory.copy(predicted, floor, bytes);
    let print = prints;
    for (let k = 0; k < sources; k++, print += bytes) {
      const now = v128.load64_splat(state + (<usize>k << 3));
      for (let o: usize = 0; o < bytes; o += 16)
        v128.store(predicted + o, f64x2.add(v128.load(predicted + o), f64x2.mul(now, v128.load(print + o))));
    }
    for (let o: usize = 0; o < bytes; o += 16) {
      const q = v128.load(predicted + o);
      const w = f64x2.div(v128.load(weights + o), q);
      v128.store(hold + o, w);
      v128.store(pull + o, f64x2.mul(w, f64x2.pmin(limit, f64x2.div(v128.load(heard + o), q))));
    }
    print = prints;
    for (let k = 0; k < sources; k++, print += bytes) {
      const at = state + (<usize>k << 3);
      const up = dot(print, pull, bytes);
      const down = 1e-300 + dot(print, hold, bytes);
      store<f64>(at, Math.min(load<f64>(most + (<usize>k << 3)), load<f64>(at) * Math.sqrt(up / down)));
    }
  }
}
