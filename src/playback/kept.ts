interface Held<T> {
  readonly answer: Promise<T>;
  /** 0 while it is under way. */
  weight: number;
}

/**
 * The last `most` answers that were asked for, by key, and of heavy ones as many as weigh `mostWeight` together, one at least; one that
 * failed is made again the next time.
 */
export class Kept<T> {
  /** In the order of use. */
  private readonly held = new Map<string, Held<T>>();
  constructor(
    private readonly most: number,
    private readonly weigh: (answer: T) => number = () => 0,
    private readonly mostWeight = Infinity,
  ) {}

  get(key: string, make: () => Promise<T>): Promise<T> {
    const one = this.held.get(key) ?? this.made(key, make());
    this.held.delete(key); // set again: the order of the map is the order of use
    this.held.set(key, one);
    if (this.held.size > this.most) this.held.delete(this.held.keys().next().value!);
    return one.answer;
  }

  private made(key: string, answer: Promise<T>): Held<T> {
    const one: Held<T> = { answer, weight: 0 };
    answer.then(
      (value) => {
        one.weight = this.weigh(value);
        this.lighten(one);
      },
      () => {
        if (this.held.get(key) === one) this.held.delete(key);
      },
    );
    return one;
  }
  /** Drops what was used longest ago until the rest is light enough; what has just come stays. */
  private lighten(newest: Held<T>): void {
    let weight = [...this.held.values()].reduce((sum, one) => sum + one.weight, 0);
    for (const [key, one] of this.held) {
      if (weight <= this.mostWeight) return;
      if (one === newest || one.weight === 0) continue;
      this.held.delete(key);
      weight -= one.weight;
    }
  }
}
