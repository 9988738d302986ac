/**
 * For tests: a server as ours is, on the real core, whose answers can get lost. Several pages on one of it end with the same
 * document.
 */
import { ApiError } from '$lib/api/problem';
import type { ChangeKind, EditDone, OpenSession, Patch, Session, Strip } from '$lib/api/types';
import { Desk } from '$lib/audio/desk';
import { Refused } from '$lib/audio/refused';
import { patched } from './patched';
import type { Keep, Step, SyncServer, Told, Waiting } from './types';

/** What happens to a request: nothing, it never arrives, its answer gets lost, or the server answers with a failure. */
export type Fate = 'fine' | 'lost' | 'answer lost' | 'failed' | 'signed out' | 'busy';

const bus = (id: number, kind: 'bus' | 'main', name: string, output: number | null): Strip => ({
  id,
  kind,
  name,
  trim_db: 0,
  polarity: 'normal',
  offset_frames: 0,
  chain: [],
  fader_db: 0,
  pan_percent: 0,
  width_percent: 100,
  mute: false,
  solo: false,
  solo_safe: false,
  output,
  sends: [],
  target: null,
});

/** A session as it begins. */
export const EMPTY: Session = {
  schema: 4,
  header: {
    title: 'Beat',
    tempo_bpm: 96,
    metre: { beats: 4, unit: 4 },
    swing: { percent: 50, grid: 'sixteenth' },
    key: '',
    pan_law: 'minus3',
    sample_rate: 48_000,
    targets: { lane: { by: 'peak', db: -12 }, sum_dbtp: -6 },
  },
  next_id: 5,
  assets: [],
  voices: [],
  strips: [bus(1, 'main', 'Main', null), bus(2, 'bus', 'Mix bus', 1)],
  mix_bus: 2,
  patterns: [{ id: 3, name: 'A', bars: 2 }],
  parts: [],
  takes: [],
  sections: [{ id: 4, name: 'A', pattern: 3, bars: 4 }],
  stem_plan: {
    without: [],
    with_buses: [],
    tap: 'channel',
    taps: [],
    range: { kind: 'song' },
    tail: true,
    depth: 'int24',
    label: '{number}_{voice}',
    with_limiter: false,
  },
  dismissed: [],
  references: [],
};

const copy = <T>(value: T): T => structuredClone(value);

export class ModelServer {
  revision = 1;
  readonly changes: EditDone[] = [];
  private undo: Step[] = [];
  private redo: Step[] = [];
  private readonly desk: Desk;
  /** Changes up to this revision are not told any more. */
  forgotten = 0;
  /** Changes that are told at once. */
  mostAtOnce = 200;
  /** Steps whose ways come with the session. */
  stepsWithWays = 50;
  /** How often somebody asked for the whole document. */
  opens = 0;
  /** Ids of edits that this server refuses, whatever the core says. */
  readonly refuses = new Set<string>();

  constructor(
    module: WebAssembly.Module,
    start: Session,
    /** Called once a request, before it is looked at. */
    public fate: () => Fate = () => 'fine',
  ) {
    this.desk = new Desk(module);
    this.desk.open(start);
  }

  get document(): Session {
    return this.desk.document();
  }

  opened(): OpenSession {
    const line = ({ id, label, there, back }: Step, at: number) =>
      at < this.stepsWithWays ? { id, label, there, back } : { id, label, there: null, back: null };
    return copy({
      id: 'session',
      document: this.desk.document(),
      revision: this.revision,
      undo: this.undo.map(line).slice(0, 50),
      redo: this.redo.map(line).slice(0, 50),
      renders_started: 0,
      remarks: [],
    });
  }

  /** The way of one page to it. */
  way(): SyncServer {
    const ask = async <T>(work: () => T): Promise<T> => {
      // Requests take turns with whatever else the pages do.
      await Promise.resolve();
      const fate = this.fate();
      if (fate === 'lost') throw new ApiError(0, 'The server cannot be reached.');
      if (fate === 'failed') throw new ApiError(500, 'Something failed on our side.');
      if (fate === 'busy') throw new ApiError(429, 'The server has more to do than it can.', undefined, 10);
      if (fate === 'signed out') throw new ApiError(401, 'You are not signed in.');
      const answer = work();
      await Promise.resolve();
      if (fate === 'answer lost') throw new ApiError(0, 'The server cannot be reached.');
      return copy(answer);
    };
    return {
      send: (change, base) => ask(() => this.take(change, base)),
      open: () =>
        ask(() => {
          this.opens += 1;
          return this.opened();
        }),
      known: (ids) =>
        ask(() =>
          this.changes.filter((c) => ids.includes(c.id)).map((c) => ({ ...c, patch: null, back: null })),
        ),
      step: (id) =>
        ask(() => {
          const step = [...this.undo, ...this.redo].find((s) => s.id === id);
          if (!step) throw new ApiError(404, 'The step is not there.');
          const { label, there, back } = step;
          return { id, label, there, back };
        }),
      changesAfter: (revision) =>
        ask(() => {
          if (revision < this.forgotten) throw new ApiError(404, 'The change is not there.');
          return this.changes.filter((c) => c.revision > revision).slice(0, this.mostAtOnce);
        }),
    };
  }

  /** Steps are forgotten, oldest or not. */
  forgetSteps(): void {
    this.undo.splice(0);
    this.redo.splice(0);
  }

  private take(change: Waiting, base: number): EditDone {
    const known = this.changes.find((c) => c.id === change.id);
    if (known) return { ...known, again: true };
    if (base !== this.revision) throw this.stale();
    if (change.kind === 'edit') return this.edit(change);
    const [from, to] = change.kind === 'undo' ? [this.undo, this.redo] : [this.redo, this.undo];
    const step = from[0];
    if (step?.id !== change.step) throw this.stale();
    const patch = change.kind === 'undo' ? step.back : step.there;
    if (!patch) throw new Error('the model keeps all patches');
    this.desk.patch(patch);
    from.shift();
    to.unshift(step);
    return this.note(change.id, change.kind, step, patch, []);
  }

  private edit(change: Waiting & { kind: 'edit' }): EditDone {
    try {
      if (this.refuses.has(change.id)) throw new Refused('the audio is not yours');
      const { there, back, label, made } = this.desk.apply(change.edit);
      const step = { id: change.id, label, there, back };
      this.undo.unshift(step);
      this.redo = [];
      return this.note(change.id, 'edit', step, there, made);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      throw new ApiError(422, `Not done: ${error.message}.`, 'edit-refused');
    }
  }

  private note(
    id: string,
    kind: ChangeKind,
    step: Step,
    patch: EditDone['patch'],
    made: EditDone['made'],
  ): EditDone {
    this.revision += 1;
    const back = kind === 'edit' ? step.back : null;
    const { label } = step;
    const done = { id, revision: this.revision, kind, step: step.id, label, patch, back, made, again: false };
    this.changes.push(copy(done));
    return done;
  }

  private stale(): ApiError {
    return new ApiError(409, 'The session was changed meanwhile.');
  }
}

/** Storage that survives what the page does not. */
export class ModelKeep implements Keep {
  kept: Waiting[] = [];
  works = true;

  async save(waiting: Waiting[]): Promise<void> {
    const written = copy(waiting);
    await Promise.resolve();
    if (!this.works) throw new Error('the disk is full');
    this.kept = written;
  }
}

/** What a page shows: the document by patches, as components see it, and the sentences. */
export class ModelPage implements Told {
  said_: string[] = [];
  renames: [number, number][] = [];
  shown: Session | undefined;

  patched(patch: Patch): void {
    if (this.shown) this.shown = patched(this.shown, patch);
  }
  opened(session: Session): void {
    this.shown = session;
  }
  renamed(ids: Map<number, number>): void {
    this.renames.push(...ids);
  }
  said(sentence: string): void {
    this.said_.push(sentence);
  }
  changed(): void {}
}
