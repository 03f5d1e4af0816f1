import { fastGain } from "./fastMath";

export type MovingShape = "low shelf" | "high shelf" | "bell";

/**
 * Bell or shelf whose gain may be moved at every frame, of one or two channels.
 * Shape   with A^2 the gain: A (A s^2 + sqrt(A) s / Q + 1) / (s^2 + sqrt(A) s / Q + A) for the high shelf, mirrored for
 *         the low one, (s^2 + A s / Q + 1) / (s^2 + s / (A Q) + 1) for the bell.
 * Source  transfer functions of the W3C Audio EQ Cookbook, run as a trapezoidal state-variable filter, which may be
 *         moved while it runs (Zavalishin, "The Art of VA Filter Design", ch. 4).
 */
export class MovingFilter {
  private a1 = 0;
  private a2 = 0;
  private a3 = 0;
  private m0 = 1;
  private m1 = 0;
  private m2 = 0;
  private designedDb = NaN;
  private shape: MovingShape = "bell";
  private g = 0;
  private k = 1;
  private readonly state = new Float64Array(4);

  /** `g`: tan(pi f / rate); `k`: 1 / Q. */
  set(shape: MovingShape, g: number, k: number): void {
    this.shape = shape;
    this.g = g;
    this.k = k;
    this.designedDb = NaN;
  }
  reset(): void {
    this.state.fill(0);
  }
  /** Moves to a gain. A hundredth of a dB is not heard; the filter is designed anew only beyond it. */
  moveTo(gainDb: number): void {
    if (!(Math.abs(gainDb - this.designedDb) < 0.01)) this.design(gainDb);
  }
  private design(gainDb: number): void {
    const { shape } = this;
    this.designedDb = gainDb;
    const a = fastGain(gainDb / 2);
    const root = Math.sqrt(a);
    const g = shape === "high shelf" ? this.g * root : shape === "low shelf" ? this.g / root : this.g;
    const k = shape === "bell" ? this.k / a : this.k;
    this.a1 = 1 / (1 + g * (g + k));
    this.a2 = g * this.a1;
    this.a3 = g * this.a2;
    this.m0 = shape === "high shelf" ? a * a : 1;
    if (shape === "bell") this.m1 = k * (a * a - 1);
    else this.m1 = shape === "high shelf" ? k * (1 - a) * a : k * (a - 1);
    this.m2 = shape === "bell" ? 0 : shape === "high shelf" ? 1 - a * a : a * a - 1;
  }
  /** One frame of one channel. */
  run(x: number, ch: number): number {
    const s = this.state;
    const at = 2 * ch;
    const v3 = x - s[at + 1]!;
    const v1 = this.a1 * s[at]! + this.a2 * v3;
    const v2 = s[at + 1]! + this.a2 * s[at]! + this.a3 * v3;
    s[at] = Math.abs(v1) < 1e-18 ? 0 : 2 * v1 - s[at]!;
    s[at + 1] = Math.abs(v2) < 1e-18 ? 0 : 2 * v2 - s[at + 1]!;
    return this.m0 * x + this.m1 * v1 + this.m2 * v2;
  }
}
