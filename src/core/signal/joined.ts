/** Pieces of a signal one after another as one; the piece itself where there is but one. */
export function joined(pieces: readonly Float32Array[]): Float32Array {
  if (pieces.length === 1) return pieces[0]!;
  const whole = new Float32Array(pieces.reduce((n, p) => n + p.length, 0));
  pieces.reduce((at, p) => (whole.set(p, at), at + p.length), 0);
  return whole;
}
