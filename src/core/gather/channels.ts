import { piecesOf, stretchOf, type Samples } from "../signal/samples";

/** One signal of a file: its only channel, or the mean of two. */
export function monoOf(channels: readonly Samples[]): Samples {
  const [a, b] = channels as [Samples, Samples?];
  if (!b) return a;
  const mean = (from: number, to = a.length): Float32Array => {
    const other = stretchOf(b, from, Math.max(0, Math.min(a.length, to) - from));
    return a.subarray(from, to).map((v, i) => 0.5 * (v + other[i]!));
  };
  return { length: a.length, subarray: mean };
}

/** One mic in two equal channels is no pair: dB under the louder channel to which both must agree. */
const equalBelow = -50;

/** True when both channels of a file are one signal. */
export function isOneMicTwice(channels: readonly Samples[]): boolean {
  if (channels.length !== 2) return false;
  const [a, b] = channels as [Samples, Samples];
  let [difference, sum] = [0, 0];
  for (const { at, piece } of piecesOf(a)) {
    const other = stretchOf(b, at, piece.length);
    for (let i = 0; i < piece.length; i++) {
      difference += (piece[i]! - other[i]!) ** 2;
      sum += piece[i]! ** 2 + other[i]! ** 2;
    }
  }
  return sum > 0 && difference < sum * 10 ** (equalBelow / 10);
}
