/** Snapshots of the session, and what differs from the one that is held against it. */
import { api } from '$lib/api/client';
import type { Difference, Session, SideFigures, SnapshotFigures, SnapshotLine } from '$lib/api/types';
import { Attempt } from '$lib/state/attempt.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { NOW, type Sides } from './sides.svelte';

/** So long a snapshot of the program is waited for before what it is taken for goes on, in ms. */
const PATIENCE_MS = 1500;

export class Versions {
  list = $state.raw<SnapshotLine[]>();
  /** Of the session as it stands: what differs from the other state of it. */
  differences = $state.raw<{ doc: Session; other: Session; list: Difference[] }>();

  constructor(
    private readonly session: SessionState,
    private readonly sides: Sides,
  ) {}

  private readonly asking = new Attempt();

  /** Why the last thing that was asked of the server failed, for people. */
  get problem(): string {
    return this.asking.problem;
  }

  /** The snapshot that is held against now. */
  other = $derived.by(() => this.sides.snapshot);

  refresh(): Promise<boolean> {
    return this.asking.run(async () => {
      this.list = await api.snapshots(this.session.id);
    });
  }

  /** What was measured of now over the loop, where that is of the session as it is. */
  private figures(): SnapshotFigures {
    return this.sides.isFresh(NOW) ? kept(this.sides.figuresOf(NOW)) : NOTHING;
  }

  /** Takes a snapshot of the session as it is, once the server has all of it; gives whether it was taken. */
  take(name: string): Promise<boolean> {
    return this.asking.run(async () => {
      await this.session.settled();
      const { sides, session } = this;
      const [sounding, document] = [sides.sounding(), session.settledDoc];
      const figures = this.figures();
      const { id } = await api.takeSnapshot(session.id, { name, by_hand: true, figures });
      await this.refresh();
      const alike = () => sides.sounding() === sounding && sides.sameAsNow(id);
      alike();
      if (figures.lufs !== null) return;
      const measure = () => sides.figuresOfSnapshot(id, name, document);
      // Behind its taking; where sides are measured instead, once more behind those.
      void measure()
        .then((found) => found ?? measure())
        .then((found) => {
          alike();
          if (found) void this.keep(id, found);
        });
    });
  }

  /** Snapshots whose figures are kept, or on their way. */
  private readonly given = new Set<string>();

  /** Keeps with a snapshot what was measured of it, once. */
  private async keep(id: string, figures: SideFigures): Promise<void> {
    if (this.given.has(id)) return;
    this.given.add(id);
    const went = await this.asking.run(async () => {
      await api.changeSnapshot(this.session.id, id, { name: null, figures: kept(figures) });
      await this.refresh();
    });
    if (!went) this.given.delete(id);
  }

  /** Keeps what was measured of snapshots as sides, where nothing is kept with them yet. */
  keepFigures(): void {
    for (const side of this.sides.others) {
      const line = this.list?.find((l) => l.id === side.key);
      // With something soloed a snapshot sounds otherwise than it was taken.
      const own = this.sides.isFresh(side) && this.sides.isPlain(side);
      const figures = own ? this.sides.figuresOf(side) : undefined;
      if (line?.figures.lufs === null && figures) void this.keep(line.id, figures);
    }
  }

  /** Takes one before something that changes much, and goes on without it where the server does not answer soon. */
  async before(name: string): Promise<void> {
    const taken = (async () => {
      await this.session.settled();
      await api.takeSnapshot(this.session.id, { name, by_hand: false, figures: this.figures() });
      if (this.list) await this.refresh();
    })().catch(() => undefined);
    await Promise.race([taken, new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))]);
  }

  rename(id: string, name: string): Promise<boolean> {
    return this.asking.run(async () => {
      await api.changeSnapshot(this.session.id, id, { name, figures: null });
      this.sides.renamed(id, name);
      await this.refresh();
    });
  }

  remove(id: string): Promise<boolean> {
    return this.asking.run(async () => {
      await api.removeSnapshot(this.session.id, id);
      this.sides.remove(id);
      await this.refresh();
    });
  }

  /** Whether what differs is of the session as it is. */
  get fresh(): boolean {
    const { differences, other } = this;
    return differences?.doc === this.session.settledDoc && differences.other === other?.document;
  }

  /** What differs, anew where the session or the snapshot is another. */
  compare(): void {
    const { other } = this;
    const doc = this.session.settledDoc;
    if (!other) this.differences = undefined;
    else if (!this.fresh)
      this.differences = { doc, other: other.document, list: this.session.desk.differences(other.document) };
  }

  of(strip: number | undefined): Difference[] {
    return this.differences?.list.filter((d) => (d.strip ?? undefined) === strip) ?? [];
  }

  /** Takes one difference over, in one step, once the server has everything: it names things by the ids that they have there. */
  takeOver(difference: Difference): Promise<boolean> {
    return this.asking.run(async () => {
      await this.session.settled();
      this.compare();
      const found = this.differences?.list.find((d) => d.key === difference.key);
      if (found) this.session.apply(found.edit);
      this.compare();
    });
  }

  /** Makes the session what it was, in one step. */
  goBack(): Promise<boolean> {
    return this.asking.run(async () => {
      const { other, session } = this;
      if (!other) return;
      await session.settled();
      await this.before(`Before going back to ${other.name}`.slice(0, 80));
      session.apply(session.desk.goBack(other.name, other.document));
      this.compare();
    });
  }
}

const NOTHING: SnapshotFigures = {
  lufs: null,
  short_term_lufs: null,
  true_peak_dbtp: null,
  crest_db: null,
};

/** What of a side's figures is kept with a snapshot. */
function kept(figures: SideFigures | undefined): SnapshotFigures {
  if (!figures) return NOTHING;
  const { lufs, short_term_lufs, true_peak_dbtp, crest_db } = figures;
  return { lufs, short_term_lufs, true_peak_dbtp, crest_db };
}
