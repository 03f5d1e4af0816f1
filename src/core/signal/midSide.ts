/**
 * Left and right into mid and side, or back, in place: sum and difference times `gain`, one half on the way there and 1 on
 * the way back.
 */
export function turn(pair: readonly Float32Array[], gain: number, frames: number): void {
  const [a, b] = [pair[0]!, pair[1]!];
  for (let i = 0; i < frames; i++) {
    const [left, right] = [a[i]!, b[i]!];
    a[i] = gain * (left + right);
    b[i] = gain * (left - right);
  }
}
