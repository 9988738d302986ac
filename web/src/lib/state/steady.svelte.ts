/** A list that stays the same object as long as all that is in it does, so that what follows it rests. */
export class Steady<T> {
  private last: T[] = [];
  readonly current: T[] = $derived.by(() => (this.last = steady(this.last, this.make())));

  constructor(private readonly make: () => T[]) {}
}

/** The list as it was where the new one holds the same things in the same order. */
export function steady<T>(last: T[], now: T[]): T[] {
  return now.length === last.length && now.every((item, n) => item === last[n]) ? last : now;
}
