/** Gains of left and right at a place: sine law for one channel, balance for two. Pure. */
export function designPan(position: number, mono: boolean): [left: number, right: number] {
  const p = position / 100;
  const angle = ((p + 1) * Math.PI) / 4;
  return mono ? [Math.cos(angle), Math.sin(angle)] : [Math.min(1, 1 - p), Math.min(1, 1 + p)];
}
