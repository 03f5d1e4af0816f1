/** One signal of a file: its only channel, or the mean of two. */
export const monoOf = (channels: readonly Float32Array[]): Float32Array =>
  channels.length === 1 ? channels[0]! : channels[0]!.map((v, i) => 0.5 * (v + channels[1]![i]!));

/** One mic in two equal channels is no pair: dB under the louder channel to which both must agree. */
const equalBelow = -50;

/** True when both channels of a file are one signal. */
export function isOneMicTwice(channels: readonly Float32Array[]): boolean {
  if (channels.length !== 2) return false;
  const [a, b] = channels as [Float32Array, Float32Array];
  let [difference, sum] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    difference += (a[i]! - b[i]!) ** 2;
    sum += a[i]! ** 2 + b[i]! ** 2;
  }
  return sum > 0 && difference < sum * 10 ** (equalBelow / 10);
}
