/** A small network of one hidden layer: values in, odds out. */
export interface StrokeNet {
  readonly origin: string;
  /** By value: what it usually is, and how far it usually lies from that. */
  readonly mean: readonly number[];
  readonly spread: readonly number[];
  /** By hidden unit: weights of the values, and what it begins with. */
  readonly hidden: readonly (readonly number[])[];
  readonly hiddenBias: readonly number[];
  /** By answer: weights of the hidden units, and what it begins with. */
  readonly answers: readonly (readonly number[])[];
  readonly answerBias: readonly number[];
}

const probability = (x: number): number => 1 / (1 + Math.exp(-x));

/** Probabilities of every answer. Shape  x: as many values as the network has means. */
export function askNet(net: StrokeNet, x: ArrayLike<number>): number[] {
  const scaled = net.mean.map((m, i) => (x[i]! - m) / net.spread[i]!);
  const hidden = net.hidden.map((weights, h) => {
    let sum = net.hiddenBias[h]!;
    for (let i = 0; i < weights.length; i++) sum += weights[i]! * scaled[i]!;
    return Math.max(0, sum);
  });
  return net.answers.map((weights, a) =>
    probability(weights.reduce((sum, w, h) => sum + w * hidden[h]!, net.answerBias[a]!)),
  );
}
