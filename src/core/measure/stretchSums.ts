import { instantiateKernels, kernelsReserve, type Kernels } from "../kernels/kernels";
import type { Section } from "../signal/biquad";

/** Two sections with their states, a pair of doubles each; behind them lie the floats. */
const pairs = 7;
const [sectionsAt, floatsAt] = [kernelsReserve, kernelsReserve + 16 * pairs];

/** What one walk along a stretch tells. */
export interface Walked {
  readonly sum: number;
  readonly square: number;
  /** At least 0 and at most 0. */
  readonly highest: number;
  readonly lowest: number;
}

/** Sums over stretches of a signal, frame after frame in 64 bits, by the kernels. */
export class StretchSums {
  private readonly kernels: Kernels;
  private readonly input: Float32Array;
  private readonly doubles: Float64Array;

  /** `frames`: of the longest stretch. Errors  as instantiateKernels. */
  constructor(frames: number) {
    const { kernels, buffer } = instantiateKernels(floatsAt + 4 * frames);
    this.kernels = kernels;
    this.input = new Float32Array(buffer, floatsAt, frames);
    this.doubles = new Float64Array(buffer, sectionsAt, 2 * pairs);
  }

  walk(x: Float32Array): Walked {
    this.input.set(x);
    this.kernels.walkOver(floatsAt, x.length, sectionsAt);
    const [sum, square, highest, lowest] = this.doubles as unknown as [number, number, number, number];
    return { sum, square, highest, lowest };
  }

  /** Takes two sections at rest; `weighted` goes through them until something else is asked. */
  weigh([p, q]: readonly [Section, Section]): void {
    this.doubles.set([p.b0, q.b0, p.b1, q.b1, p.b2, q.b2, p.a1, q.a1, p.a2, q.a2, 0, 0, 0, 0]);
  }
  /** Energy behind the sections of the stretch that follows the last one; what comes out of them is rounded to 32 bits. */
  weighted(x: Float32Array): number {
    if (x.length === 0) return 0;
    this.input.set(x);
    return this.kernels.weightedSquares(sectionsAt, floatsAt, x.length);
  }
}

/** By the longest stretch; kept on this thread. */
const known = new Map<number, StretchSums>();

/** Sums over stretches of at most so many frames. */
export function stretchSums(frames: number): StretchSums {
  const before = known.get(frames);
  if (before) return before;
  const made = new StretchSums(frames);
  known.set(frames, made);
  return made;
}
