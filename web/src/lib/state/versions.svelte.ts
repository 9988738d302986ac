/** Snapshots of the session, the one that now is held against, what differs, and how it sounds. */
import { api } from '$lib/api/client';
import type { Difference, Session, SnapshotFigures, SnapshotLine } from '$lib/api/types';
import type { Player } from '$lib/audio/player.svelte';
import { Attempt } from './attempt.svelte';
import type { Gauge, Reading } from './gauge.svelte';
import type { SessionState } from './session.svelte';

/** A snapshot that is held against now. */
interface Other {
  id: string;
  name: string;
  document: Session;
}

/** How one side sounds over the loop. */
export interface SideFigures {
  lufs: number | null;
  true_peak_dbtp: number | null;
  crest_db: number | null;
}

/** What of a session sounds over the loop, once it was measured. */
interface Loudness {
  /** Of the session as it was then. */
  doc: Session;
  other: string;
  now: SideFigures;
  then: SideFigures;
}

/** So long a snapshot of the program is waited for before what it is taken for goes on, in ms. */
const PATIENCE_MS = 1500;

export class Versions {
  list = $state.raw<SnapshotLine[]>();
  other = $state.raw<Other>();
  /** Which side is heard. */
  heard = $state<'now' | 'then'>('now');
  /** Whether what is heard is moved to be as loud as the other side. */
  private matched = false;
  loudness = $state.raw<Loudness>();
  /** Of the session as it stands: what differs from the other side. */
  differences = $state.raw<{ doc: Session; list: Difference[] }>();

  constructor(
    private readonly session: SessionState,
    private readonly gauge: Gauge,
    private readonly player: Player,
  ) {}

  private readonly asking = new Attempt();

  /** Why the last thing that was asked of the server failed, for people. */
  get problem(): string {
    return this.asking.problem;
  }

  refresh(): Promise<void> {
    return this.asking.run(async () => {
      this.list = await api.snapshots(this.session.id);
    });
  }

  /** What was measured of main over the loop, where that is of the session as it is. */
  private figures(): SnapshotFigures {
    const { gauge } = this;
    const found = gauge.fresh && gauge.reading ? sideOf(gauge.reading, this.session.doc) : undefined;
    return found ?? NOTHING;
  }

  /** Takes a snapshot of the session as it is, once the server has all of it. */
  take(name: string): Promise<void> {
    return this.asking.run(async () => {
      await this.session.settled();
      const doc = this.session.settledDoc;
      const figures = this.figures();
      const { id } = await api.takeSnapshot(this.session.id, { name, by_hand: true, figures });
      await this.refresh();
      if (figures.lufs === null) void this.measureOf(id, doc);
    });
  }

  /** Measures a snapshot that was just taken, as long as the session is still as it was. */
  private async measureOf(id: string, doc: Session): Promise<void> {
    if (this.gauge.part !== undefined) return;
    const reading = await this.gauge.measure('Measuring the snapshot');
    if (!reading || reading.doc !== doc) return;
    await this.asking.run(async () => {
      await api.changeSnapshot(this.session.id, id, { name: null, figures: sideOf(reading, doc) });
      await this.refresh();
    });
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

  rename(id: string, name: string): Promise<void> {
    return this.asking.run(async () => {
      await api.changeSnapshot(this.session.id, id, { name, figures: null });
      if (this.other?.id === id) this.other = { ...this.other, name };
      await this.refresh();
    });
  }

  remove(id: string): Promise<void> {
    return this.asking.run(async () => {
      await api.removeSnapshot(this.session.id, id);
      if (this.other?.id === id) this.drop();
      await this.refresh();
    });
  }

  /** Holds a snapshot against now. */
  choose(line: SnapshotLine): Promise<void> {
    return this.asking.run(async () => {
      if (this.other?.id === line.id) return;
      const document = await api.snapshot(this.session.id, line.id);
      this.hearNow();
      this.other = { id: line.id, name: line.name, document };
      this.differences = undefined;
      this.compare();
    });
  }

  /** Holds nothing against now. */
  drop(): void {
    this.hearNow();
    this.other = this.differences = undefined;
  }

  /** Whether what differs is of the session as it is. */
  get fresh(): boolean {
    return this.differences?.doc === this.session.settledDoc;
  }

  /** What differs, anew where the session changed. */
  compare(): void {
    const { other } = this;
    const doc = this.session.settledDoc;
    if (!other || this.fresh || this.heard === 'then') return;
    this.differences = { doc, list: this.session.desk.differences(other.document) };
  }

  of(strip: number | undefined): Difference[] {
    return this.differences?.list.filter((d) => (d.strip ?? undefined) === strip) ?? [];
  }

  /** Takes one difference over, in one step, once the server has everything: it names things by the ids that they have there. */
  takeOver(difference: Difference): Promise<void> {
    return this.asking.run(async () => {
      this.hearNow();
      await this.session.settled();
      this.compare();
      const found = this.differences?.list.find((d) => d.key === difference.key);
      if (found) this.session.apply(found.edit);
      this.compare();
    });
  }

  /** Makes the session what it was, in one step. */
  goBack(): Promise<void> {
    return this.asking.run(async () => {
      const { other, session } = this;
      if (!other) return;
      this.hearNow();
      await session.settled();
      await this.before(`Before going back to ${other.name}`.slice(0, 80));
      session.apply(session.desk.goBack(other.name, other.document));
      this.compare();
    });
  }

  /** Whether both sides were measured as they are. */
  get measured(): boolean {
    const { loudness, other } = this;
    return loudness !== undefined && loudness.other === other?.id && loudness.doc === this.session.settledDoc;
  }

  /** Measures both sides over the loop, so that they can be heard as loud as each other. */
  async measure(): Promise<boolean> {
    const { other, session, gauge } = this;
    if (!other) return false;
    if (this.measured) return true;
    const doc = session.settledDoc;
    const now = await gauge.measure('Measuring now');
    const edit = session.desk.goBack(other.name, other.document);
    const then = now && (await gauge.run(`Measuring ${other.name}`, [edit], false));
    if (!then || session.settledDoc !== doc) return false;
    const sides = [sideOf(now, doc), sideOf({ ...now, found: then }, other.document)] as const;
    this.loudness = { doc, other: other.id, now: sides[0], then: sides[1] };
    return true;
  }

  /** By how much each side is moved in dB, so that both are as loud as the softer one. */
  get offsets(): { now: number; then: number } {
    const [now, then] = [this.loudness?.now.lufs ?? null, this.loudness?.then.lufs ?? null];
    if (!this.measured || now === null || then === null) return { now: 0, then: 0 };
    const softest = Math.min(now, then);
    return { now: softest - now, then: softest - then };
  }

  /** Plays the other side, in this tab alone, as loud as now. */
  async hearThen(): Promise<void> {
    const { other, session, player } = this;
    if (!other || this.heard === 'then' || !(await this.measure())) return;
    this.heard = 'then';
    this.matched = true;
    session.startTrial(other.name, session.desk.goBack(other.name, other.document), true);
    player.passBy({ processors: [], main_db: this.offsets.then });
  }

  /** Plays now again, as loud as the other side where both were measured. */
  hearNowMatched(): void {
    if (this.heard === 'then') this.session.endTrial();
    this.heard = 'now';
    this.matched = true;
    this.player.passBy({ processors: [], main_db: this.offsets.now });
  }

  /** Plays now as it is. */
  hearNow(): void {
    if (!this.matched) return;
    this.matched = false;
    if (this.heard === 'then') this.session.endTrial();
    this.heard = 'now';
    this.player.passBy({ processors: [], main_db: 0 });
  }

  /** Where what is heard was taken back from elsewhere, as undo does, now is heard here too. */
  follow(): void {
    if (this.heard === 'then' && !this.session.trial) this.hearNow();
  }
}

const NOTHING: SideFigures = { lufs: null, true_peak_dbtp: null, crest_db: null };

/** Main over the loop, of a measuring run. */
function sideOf(reading: Reading, doc: Session): SideFigures {
  const main = doc.strips.find((s) => s.kind === 'main')?.id;
  const strip = reading.found.measured.strips.find((s) => s.strip === main);
  const out = strip?.stations.find((s) => s.station === 'out');
  if (!out) return NOTHING;
  const { lufs, true_peak_dbtp, sample_peak_dbfs, rms_dbfs } = out;
  const crest_db = sample_peak_dbfs === null || rms_dbfs === null ? null : sample_peak_dbfs - rms_dbfs;
  return { lufs, true_peak_dbtp, crest_db };
}
