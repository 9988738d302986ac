/** Growing pauses between tries. */
export class Pauses {
  private next = 250;

  /** The next pause in ms: twice the last one, at most 15 s. */
  grow(): number {
    const pause = this.next;
    this.next = Math.min(15_000, pause * 2);
    return pause;
  }

  reset(): void {
    this.next = 250;
  }
}
