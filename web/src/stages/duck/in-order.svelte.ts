/** What is asked of duckers one after the other: what comes while something is looked for waits for it, and nothing is dropped. */

/** What something is asked of. */
export interface Asked {
  /** Duckers by their ids as they are now: the first of them, and those that get the same. */
  ids: number[];
}

export class InOrder {
  /** In the order in which it was asked. */
  private waiting = $state.raw<readonly Asked[]>([]);
  private last: Promise<unknown> = Promise.resolve();

  /** Does something with duckers once all that was asked before is done. */
  ask<T>(ids: number[], work: (asked: Asked) => Promise<T>): Promise<T> {
    const asked: Asked = { ids };
    this.waiting = [...this.waiting, asked];
    const done = this.last
      .then(() => work(asked))
      .finally(() => {
        this.waiting = this.waiting.filter((other) => other !== asked);
      });
    this.last = done.catch(() => undefined);
    return done;
  }

  /** Whether something is still to be set on a ducker. */
  sets(id: number): boolean {
    return this.waiting.some(({ ids }) => ids[0] === id);
  }

  get busy(): boolean {
    return this.waiting.length > 0;
  }

  /** Things got other ids, since somebody else made some meanwhile. */
  renamed(to: Map<number, number>): void {
    for (const asked of this.waiting) asked.ids = asked.ids.map((id) => to.get(id) ?? id);
    this.waiting = [...this.waiting];
  }
}
