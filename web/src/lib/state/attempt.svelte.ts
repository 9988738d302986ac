/** Something that may fail, such as asking the server: whether it is on its way, and why it failed. */
export class Attempt {
  busy = $state(false);
  /** A sentence for people. */
  problem = $state('');

  /** Whether it went well. */
  async run(work: () => Promise<void>): Promise<boolean> {
    [this.busy, this.problem] = [true, ''];
    try {
      await work();
      return true;
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
      return false;
    } finally {
      this.busy = false;
    }
  }
}
