/** What is asked of duckers one after the other: what comes while something is looked for waits for it, and nothing is dropped. */
export class InOrder {
  /** Duckers that are being set, in the order in which they were asked for. */
  waiting = $state.raw<readonly number[]>([]);
  private last: Promise<unknown> = Promise.resolve();

  /** Does something with a ducker once all that was asked before is done. */
  ask<T>(processor: number, work: () => Promise<T>): Promise<T> {
    this.waiting = [...this.waiting, processor];
    const done = this.last.then(work).finally(() => {
      const at = this.waiting.indexOf(processor);
      this.waiting = this.waiting.filter((_, n) => n !== at);
    });
    this.last = done.catch(() => undefined);
    return done;
  }

  /** Whether something is still to be set on a ducker. */
  sets(processor: number): boolean {
    return this.waiting.includes(processor);
  }

  get busy(): boolean {
    return this.waiting.length > 0;
  }
}
