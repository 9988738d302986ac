/** Tells the engine in the worklet what changed in the document on the desk: one message at a time, and all that came
 *  together in one of them. */

/** Where words come from. */
export interface Source {
  engine(fresh: boolean): ArrayBuffer;
  readonly beginnings: number;
}

export class Follower {
  /** Messages that the engine has not followed yet. */
  private underWay = 0;
  private dirty = false;
  private fresh = true;
  private waiting = false;
  private beginnings: number;

  constructor(
    private readonly desk: Source,
    private readonly send: (words: ArrayBuffer, begin: boolean) => void,
  ) {
    this.beginnings = desk.beginnings;
  }

  /** Whether the desk began anew since the engine did. */
  get isLost(): boolean {
    return this.desk.beginnings !== this.beginnings;
  }

  /** The document changed. What changes until the page is done with the moment goes together. */
  changed(): void {
    this.dirty = true;
    if (this.waiting || this.underWay > 0) return;
    this.waiting = true;
    queueMicrotask(() => this.tell());
  }

  /** The engine begins anew. */
  begin(): void {
    [this.fresh, this.underWay, this.beginnings] = [true, 0, this.desk.beginnings];
    this.changed();
  }

  /** The engine followed so many messages. */
  followed(messages: number): void {
    this.underWay = Math.max(0, this.underWay - messages);
    if (this.dirty) this.changed();
  }

  private tell(): void {
    this.waiting = false;
    if (!this.dirty || this.underWay > 0) return;
    this.dirty = false;
    const begin = this.fresh;
    const words = this.desk.engine(begin);
    this.fresh = false;
    if (words.byteLength === 0) return;
    this.underWay += 1;
    this.send(words, begin);
  }
}
