// Fits a small network of one hidden layer by gradient descent with moments.
// Source  Kingma and Ba, Adam, ICLR 2015 (from memory); hidden units are left out at random (Srivastava and others, JMLR 15, 2014).
import { randomSource } from "../src/core/signal/random";
import type { StrokeNet } from "../src/core/loops/strokeNet";

export interface NetSample {
  readonly x: Float32Array;
  /** By answer, 0 or 1. */
  readonly y: readonly number[];
}

export interface NetOptions {
  readonly hidden: number;
  readonly rounds: number;
  /** Changes a copy of the values as other recordings would have them. */
  readonly vary: (x: Float32Array, random: () => number) => void;
}

const batch = 128;
const kept = 0.8;
const decay = 3e-5;
const rate = 1.5e-3;

/** Mean and spread of every value. */
function scaleOf(samples: readonly NetSample[], n: number): { mean: Float64Array; spread: Float64Array } {
  const mean = new Float64Array(n);
  const spread = new Float64Array(n);
  for (const { x } of samples) for (let i = 0; i < n; i++) mean[i]! += x[i]! / samples.length;
  for (const { x } of samples)
    for (let i = 0; i < n; i++) spread[i]! += (x[i]! - mean[i]!) ** 2 / samples.length;
  return { mean, spread: spread.map((v) => Math.sqrt(v) + 1e-3) };
}

/** Weights that go down along their gradients. */
class Weights {
  readonly w: Float64Array;
  readonly gradient: Float64Array;
  private readonly first: Float64Array;
  private readonly second: Float64Array;
  constructor(n: number, begin: () => number) {
    this.w = Float64Array.from({ length: n }, begin);
    this.gradient = new Float64Array(n);
    this.first = new Float64Array(n);
    this.second = new Float64Array(n);
  }
  step(count: number, speed: number): void {
    const [a, b] = [1 - 0.9 ** count, 1 - 0.999 ** count];
    for (let i = 0; i < this.w.length; i++) {
      const g = this.gradient[i]! / batch + decay * this.w[i]!;
      this.first[i] = 0.9 * this.first[i]! + 0.1 * g;
      this.second[i] = 0.999 * this.second[i]! + 0.001 * g * g;
      this.w[i]! -= (speed * (this.first[i]! / a)) / (Math.sqrt(this.second[i]! / b) + 1e-8);
    }
    this.gradient.fill(0);
  }
}

/** Fits a network to samples. `origin` is told with it. */
export function fitNet(
  samples: readonly NetSample[],
  origin: string,
  { hidden, rounds, vary }: NetOptions,
): StrokeNet {
  const n = samples[0]!.x.length;
  const answers = samples[0]!.y.length;
  const random = randomSource(1);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const { mean, spread } = scaleOf(samples, n);
  const w1 = new Weights(hidden * n, () => normal() * Math.sqrt(2 / n));
  const b1 = new Weights(hidden, () => 0);
  const w2 = new Weights(answers * hidden, () => 0.2 * normal());
  const b2 = new Weights(answers, () => -2);
  const order = samples.map((_, i) => i);
  const [x, z, h, dh] = [
    new Float32Array(n),
    new Float64Array(n),
    new Float64Array(hidden),
    new Float64Array(hidden),
  ];
  let steps = 0;
  const learn = ({ x: given, y }: NetSample): void => {
    x.set(given);
    vary(x, random);
    for (let i = 0; i < n; i++)
      z[i] = (x[i]! - mean[i]!) / spread[i]! + 0.1 * (random() + random() + random() - 1.5);
    for (let u = 0; u < hidden; u++) {
      let sum = b1.w[u]!;
      const at = u * n;
      for (let i = 0; i < n; i++) sum += w1.w[at + i]! * z[i]!;
      h[u] = sum > 0 && random() < kept ? sum / kept : 0;
    }
    dh.fill(0);
    for (let a = 0; a < answers; a++) {
      let sum = b2.w[a]!;
      for (let u = 0; u < hidden; u++) sum += w2.w[a * hidden + u]! * h[u]!;
      const g = 1 / (1 + Math.exp(-sum)) - y[a]!;
      b2.gradient[a]! += g;
      for (let u = 0; u < hidden; u++) {
        w2.gradient[a * hidden + u]! += g * h[u]!;
        dh[u]! += g * w2.w[a * hidden + u]!;
      }
    }
    for (let u = 0; u < hidden; u++) {
      if (h[u] === 0) continue;
      const g = dh[u]! / kept;
      b1.gradient[u]! += g;
      const at = u * n;
      for (let i = 0; i < n; i++) w1.gradient[at + i]! += g * z[i]!;
    }
  };
  for (let round = 0; round < rounds; round++) {
    for (let i = order.length - 1; i > 0; i--) {
      const j = Math.floor(random() * (i + 1));
      [order[i], order[j]] = [order[j]!, order[i]!];
    }
    const speed = rate * 0.5 * (1 + Math.cos((Math.PI * round) / rounds)) + 1e-5;
    for (let at = 0; at + batch <= order.length; at += batch) {
      for (let i = at; i < at + batch; i++) learn(samples[order[i]!]!);
      steps++;
      for (const w of [w1, b1, w2, b2]) w.step(steps, speed);
    }
  }
  const figures = (v: Iterable<number>) => Array.from(v, (f) => Number(f.toPrecision(4)));
  const rows = (w: Float64Array, width: number) =>
    Array.from({ length: w.length / width }, (_, r) => figures(w.subarray(r * width, (r + 1) * width)));
  return {
    origin,
    mean: figures(mean),
    spread: figures(spread),
    hidden: rows(w1.w, n),
    hiddenBias: figures(b1.w),
    answers: rows(w2.w, hidden),
    answerBias: figures(b2.w),
  };
}
