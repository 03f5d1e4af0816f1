/**
 * Multiplicative steps towards the energies of the drums that explain best what all observers hear, and each one's own share
 * (core/bleed/separate.ts), for two bands at once in 64 bits.
 * Rows are of `bands` doubles, an even number. powers, weights, gains: a row an observer; heard: a row a source for each
 * observer; down, energy: a row a source, energy as it starts; up: as energy, scratch; own: a word an observer, below 0: none.
 */
export function tellApart(powers: usize, weights: usize, heard: usize, down: usize, own: usize, observers: i32, sources: i32, bands: i32, steps: i32, least: f64, energy: usize, up: usize, gains: usize): void {
  const bytes = <usize>bands << 3;
  const floor = f64x2.splat(least);
  for (let at: usize = 0; at < bytes; at += 16) {
    for (let step = 0; step <= steps; step++) {
      for (let k = 0; k < sources; k++) v128.store(up + at + <usize>k * bytes, f64x2.splat(0));
      let row = heard + at;
      for (let m = 0; m < observers; m++, row += <usize>sources * bytes) {
        let sum = floor;
        for (let k = 0; k < sources; k++) {
          const o = <usize>k * bytes;
          sum = f64x2.add(sum, f64x2.mul(v128.load(row + o), v128.load(energy + at + o)));
        }
        const place = at + <usize>m * bytes;
        if (step == steps) {
          const mine = load<i32>(own + (<usize>m << 2));
          const o = <usize>mine * bytes;
          v128.store(gains + place, mine < 0 ? f64x2.splat(1) : f64x2.div(f64x2.mul(v128.load(row + o), v128.load(energy + at + o)), sum));
          continue;
        }
        const ratio = f64x2.div(f64x2.mul(v128.load(weights + place), v128.load(powers + place)), sum);
        for (let k = 0; k < sources; k++) {
          const o = <usize>k * bytes;
          v128.store(up + at + o, f64x2.add(v128.load(up + at + o), f64x2.mul(v128.load(row + o), ratio)));
        }
      }
      if (step == steps) break;
      for (let k = 0; k < sources; k++) {
        const o = at + <usize>k * bytes;
        const ratio = f64x2.div(v128.load(up + o), v128.load(down + o));
        v128.store(energy + o, f64x2.mul(v128.load(energy + o), f64x2.mul(ratio, f64x2.sqrt(ratio))));
      }
    }
  }
}
