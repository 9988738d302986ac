/** How many rows have their cells. A stage's cells come a few rows a picture, so that nobody's keys wait for a long board. */

/** Rows that are filled in one picture. */
const AT_A_TIME = 4;

export class Filling {
  private filled = $state.raw<{ of: unknown; rows: number }>({ of: undefined, rows: 0 });

  /** What is filled, and how many rows it has; a function that runs in an effect. */
  constructor(what: () => { of: unknown; rows: number }) {
    $effect.pre(() => {
      const { of, rows } = what();
      const done = this.filled.of === of ? this.filled.rows : 0;
      if (done >= rows) return;
      if (done === 0) {
        this.filled = { of, rows: AT_A_TIME };
        return;
      }
      const next = requestAnimationFrame(() => (this.filled = { of, rows: done + AT_A_TIME }));
      return () => cancelAnimationFrame(next);
    });
  }

  /** Whether the cells of a row are there. */
  has(of: unknown, row: number): boolean {
    return this.filled.of === of && row < this.filled.rows;
  }
}
