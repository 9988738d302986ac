/** Something that may fail, such as asking the server: whether it is on its way, and why it failed. */
export class Attempt {
  busy = $state(false);
  /** A sentence for people. */
  problem = $state('');

  async run(work: () => Promise<void>): Promise<void> {
    [this.busy, this.problem] = [true, ''];
    try {
      await work();
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
    }
    this.busy = false;
  }
}
