/** Range over which a decay is read, dB under the whole: T20 of ISO 3382-1. */
const from = -5;
const to = -25;

/**
 * Time in which a drum decays by 60 dB, s: its energy is integrated from behind and a line laid through the fall from -5 to
 * -25 dB. Null: it does not fall so far.
 * Source  backward integration: Schroeder, JASA 37, 1965; range and extrapolation: ISO 3382-1 (T20).
 * Shape   energies of a stroke's average, from its peak on, one every `step` seconds.
 */
export function decayTime(energies: readonly number[], step: number): number | null {
  const left = new Float64Array(energies.length);
  let sum = 0;
  for (let i = energies.length - 1; i >= 0; i--) left[i] = sum += energies[i]!;
  if (sum <= 0) return null;
  const level = (i: number) => 10 * Math.log10(left[i]! / left[0]! + 1e-30);
  const points: [number, number][] = [];
  let reached = false;
  for (let i = 0; i < left.length && !reached; i++) {
    const db = level(i);
    if (db <= from) points.push([i * step, db]);
    reached = db <= to;
  }
  if (!reached || points.length < 2) return null;
  const n = points.length;
  const [mt, md] = [0, 1].map((k) => points.reduce((s, p) => s + p[k]!, 0) / n) as [number, number];
  const slope =
    points.reduce((s, [t, d]) => s + (t - mt) * (d - md), 0) /
    points.reduce((s, [t]) => s + (t - mt) ** 2, 0);
  return -60 / slope;
}
