/** Lets one piece of work through at a time, in the order in which they came. */
export class Gate {
  private last: Promise<unknown> = Promise.resolve();

  run<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work);
    // what fails must not stop those behind it
    this.last = mine.catch(() => undefined);
    return mine;
  }
}
