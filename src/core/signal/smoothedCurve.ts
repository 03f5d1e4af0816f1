/** A curve without memory, with its first and second integral. */
export interface Curve {
  /** Up to this amount the curve and its integrals are zero; 0 where they are not. */
  readonly begin: number;
  value(x: number): number;
  first(x: number): number;
  second(x: number): number;
}

/** Neighbours nearer than this are taken as equal: their quotient would be lost in rounding. */
const near = 1e-4;

/**
 * Second-order antiderivative anti-aliasing: a curve applied as if the signal were a straight line from sample to sample
 * and smoothed by a triangle of two samples. Late by one sample; its response falls as sinc^2.
 * Source  Bilbao, Esqueda, Parker, Välimäki, IEEE Signal Processing Letters 24(7), 2017, eqs. 11 to 14.
 */
export class SmoothedCurve {
  private x1 = 0;
  private x2 = 0;
  /** Second integral at x1, and the quotient of it between x1 and x2. */
  private last = 0;
  private slope = 0;

  reset(): void {
    this.x1 = 0;
    this.x2 = 0;
    this.last = 0;
    this.slope = 0;
  }
  /** The next value, smoothed. Both the curve and its integrals must be zero at zero; the curve may change between calls. */
  next(x: number, curve: Curve): number {
    const { x1, x2 } = this;
    const { begin } = curve;
    if (Math.abs(x) <= begin && Math.abs(x1) <= begin && Math.abs(x2) <= begin) {
      this.x2 = x1;
      this.x1 = x;
      this.last = 0;
      this.slope = 0;
      return 0;
    }
    const second = curve.second(x);
    const slope = Math.abs(x - x1) < near ? curve.first((x + x1) / 2) : (second - this.last) / (x - x1);
    let y: number;
    if (Math.abs(x - x2) >= near) y = (2 * (slope - this.slope)) / (x - x2);
    else {
      const middle = (x + x2) / 2;
      const apart = middle - x1;
      y =
        Math.abs(apart) < near
          ? curve.value((middle + x1) / 2)
          : (2 / apart) * (curve.first(middle) + (this.last - curve.second(middle)) / apart);
    }
    this.x2 = x1;
    this.x1 = x;
    this.last = second;
    this.slope = slope;
    return y;
  }
}
