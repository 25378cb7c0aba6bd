/** Work that goes on while the next piece of it is prepared, such as writing what was found: one at a time, in order. */
export class WriteBehind {
  private last: Promise<unknown> = Promise.resolve();

  /** Begins once what was added before is done; throws where that failed. */
  async add(work: () => Promise<unknown>): Promise<void> {
    await this.last;
    this.last = work();
    // It is told to who waits for it next, not to nobody.
    this.last.catch(() => {});
  }

  /** Waits for what was added last. */
  async done(): Promise<void> {
    await this.last;
  }
}
