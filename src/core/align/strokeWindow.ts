/** Rises within the lead and falls off towards the end, so that cuts do not count as signal. */
export function strokeWindow(length: number, lead: number): Float64Array {
  const w = new Float64Array(length);
  const fall = Math.round(length * 0.35);
  for (let i = 0; i < length; i++) {
    const up = i < lead ? 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / lead) : 1;
    const left = length - i - 0.5;
    w[i] = up * (left < fall ? 0.5 - 0.5 * Math.cos((Math.PI * left) / fall) : 1);
  }
  return w;
}
