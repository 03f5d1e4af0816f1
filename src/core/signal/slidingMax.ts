/**
 * Largest of the last `length` values of a stream, constant work a value on average. Allocates only when made.
 * Source  monotonic queue: Lemire, Nordic Journal of Computing 13(4), 2006.
 */
export class SlidingMax {
  private readonly values: Float64Array;
  private readonly times: Float64Array;
  private readonly size: number;
  private readonly mask: number;
  private head = 0;
  private count = 0;
  private now = 0;

  /** Shape  `longest`: the largest length that will be asked for. */
  constructor(longest: number) {
    this.size = 2 ** Math.ceil(Math.log2(longest + 1));
    this.mask = this.size - 1;
    this.values = new Float64Array(this.size);
    this.times = new Float64Array(this.size);
  }
  reset(): void {
    this.head = 0;
    this.count = 0;
    this.now = 0;
  }
  /** Takes a value; returns the largest of it and the `length - 1` before it. */
  next(value: number, length: number): number {
    const { values, times, size, mask } = this;
    while (this.count > 0 && values[(this.head + this.count - 1) & mask]! <= value) this.count--;
    // A sample that is no number ends every comparison; it must not fill the queue.
    if (this.count === size) this.count--;
    const at = (this.head + this.count) & mask;
    values[at] = value;
    times[at] = this.now;
    this.count++;
    while (this.now - times[this.head]! >= length && this.count > 1) {
      this.head = (this.head + 1) & mask;
      this.count--;
    }
    this.now++;
    return values[this.head]!;
  }
}
