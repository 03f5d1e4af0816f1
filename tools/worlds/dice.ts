import { normal } from "../../demo/voices";
import { randomSource } from "../../src/core/signal/random";

/** What a world is thrown with; the same seed throws the same. */
export interface Dice {
  /** 0..1. */
  readonly random: () => number;
  readonly between: (from: number, to: number) => number;
  readonly pick: <T>(list: readonly T[]) => T;
  /** Of mean 0 and deviation 1. */
  readonly normal: () => number;
}
export function diceOf(seed: number): Dice {
  const random = randomSource(seed);
  return {
    random,
    between: (from, to) => from + random() * (to - from),
    pick: (list) => list[Math.floor(random() * list.length)]!,
    normal: () => normal(random),
  };
}
