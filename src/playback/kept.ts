/** The last `most` answers that were asked for, by key; one that failed is made again the next time. */
export class Kept<T> {
  private readonly held = new Map<string, Promise<T>>();
  constructor(private readonly most: number) {}

  get(key: string, make: () => Promise<T>): Promise<T> {
    const answer = this.held.get(key) ?? make();
    this.held.delete(key); // set again: the order of the map is the order of use
    this.held.set(key, answer);
    answer.catch(() => {
      if (this.held.get(key) === answer) this.held.delete(key);
    });
    if (this.held.size > this.most) this.held.delete(this.held.keys().next().value!);
    return answer;
  }
}
