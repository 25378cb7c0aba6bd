/** Works of the same key one after the other: of two at the same moment, neither would see what the other makes. */
export class InTurn {
  private readonly last = new Map<string, Promise<void>>();

  /** Gives what the work gives, or fails as it fails; a failure does not hold up those after it. */
  do<T>(key: string, work: () => Promise<T>): Promise<T> {
    const own = (this.last.get(key) ?? Promise.resolve()).then(work);
    const settled = own.then(
      () => {},
      () => {},
    );
    this.last.set(key, settled);
    void settled.then(() => this.last.get(key) === settled && this.last.delete(key));
    return own;
  }
}
