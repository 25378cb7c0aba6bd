/** The newest `most` of what was made, by name: what was asked for last stays. */
export class Newest<T> {
  private readonly kept = new Map<string | number, T>();
  private readonly most: number;
  constructor(most: number) {
    this.most = most;
  }

  get(name: string | number, make: () => T): T {
    const value = this.kept.get(name) ?? make();
    this.kept.delete(name);
    this.kept.set(name, value);
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value as string | number);
    return value;
  }

  has = (name: string | number): boolean => this.kept.has(name);

  forget(name: string | number): void {
    this.kept.delete(name);
  }

  /** What is kept, the oldest first. */
  [Symbol.iterator](): IterableIterator<[string | number, T]> {
    return this.kept.entries();
  }
}

/** The same of what takes a while to make; what could not be made is made anew when it is asked for again. */
export class NewestPromises<T> extends Newest<Promise<T>> {
  override get(name: string | number, make: () => Promise<T>): Promise<T> {
    return super.get(name, () => {
      const value = make();
      value.catch(() => this.forget(name));
      return value;
    });
  }
}
