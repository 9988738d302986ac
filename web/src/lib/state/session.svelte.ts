/** The open session: its document as components see it, and what becomes of changes. */
import { api } from '$lib/api/client';
import type { Edit, OpenSession, Session } from '$lib/api/types';
import type { Desk } from '$lib/audio/desk';
import type { Player } from '$lib/audio/player.svelte';
import { Refused } from '$lib/audio/refused';
import { followRevisions } from '$lib/sync/following';
import { Machine } from '$lib/sync/machine';
import { patched } from '$lib/sync/patched';
import type { Storage } from '$lib/sync/storage';
import { takesUp, type Trial } from './trial';
import { keepNothing, type SaveState, type SyncServer, type Trouble, type Waiting } from '$lib/sync/types';

/** The server, for one session. */
function serverOf(id: string): SyncServer {
  return {
    send: (change: Waiting, base_revision: number) =>
      change.kind === 'edit'
        ? api.edit(id, { id: change.id, base_revision, edit: change.edit })
        : api.walk(id, change.kind, { id: change.id, base_revision, step: change.step }),
    open: () => api.session(id),
    known: (ids) => api.known(id, ids),
    step: (step) => api.step(id, step),
    changesAfter: (revision) => api.changesAfter(id, revision),
  };
}

const clock = {
  pause: (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms)),
  now: () => Date.now(),
  id: () => crypto.randomUUID(),
};

export class SessionState {
  readonly id: string;
  /**
   * The document, and below what is tried out, as all that follows is made from: what a component sees of either is as it
   * was before where an effect ends, and a change that went on from there would be lost.
   */
  private held: Session;
  private tried: Trial | undefined;
  /** The document as components see it. */
  doc: Session;
  /** Its header, followed by itself: what reads it rests while other things change. */
  header: Session['header'];
  /** The document without what is still being tried: what takes long to work out follows this. */
  settledDoc: Session;
  private trying = false;
  rendersStarted = $state(0);
  /** Where the newest change is. */
  saving = $state<SaveState>('saved');
  /** Changes that the server does not have yet. */
  unsaved = $state(0);
  trouble = $state.raw<Trouble>();
  /** What undo and redo would do; nothing where there is nothing. */
  undoLabel = $state<string>();
  redoLabel = $state<string>();
  /** What was done last beside what was asked, or by undo and redo, and when in ms of the page; some of it can be undone there. */
  walked = $state.raw<{ sentence: string; at: number; undo?: string }>();
  /** An edit that waits for somebody to say that what goes with it may go. */
  asking = $state.raw<{ edit: Edit; losses: string[]; then: () => void }>();
  /** A sentence for people about what was not done. */
  message = $state('');
  private voices = $derived.by(() => this.settledDoc.voices);
  private strips = $derived.by(() => this.settledDoc.strips);
  /** What strips are called. */
  private names = $derived.by(() => {
    // The desk holds the same document; what names are made of is named here.
    void [this.voices, this.strips];
    return new Map(this.desk.names().map((line) => [line.strip, line.name]));
  });
  /** What is tried out until it is kept or put back. */
  trial = $state.raw<Trial>();

  /** Calls who has to know when things get other ids. */
  renamed: (ids: Map<number, number>) => void = () => {};

  private readonly machine: Machine;
  private readonly ending = new AbortController();

  constructor(
    opened: OpenSession,
    readonly desk: Desk,
    readonly player: Player,
    private readonly storage: Storage | undefined,
    /** What dead tabs left. */
    left: Waiting[],
  ) {
    this.id = opened.id;
    this.held = opened.document;
    this.doc = $state.raw(opened.document);
    this.header = $state.raw(opened.document.header);
    this.settledDoc = $state.raw(opened.document);
    this.machine = new Machine(
      desk,
      serverOf(opened.id),
      storage ?? keepNothing,
      {
        patched: (patch) => {
          this.show(patched(this.held, patch));
          if (!this.trying) this.settledDoc = this.held;
          this.player.patch(patch);
        },
        opened: (session, { rendersStarted }) => {
          this.show(session);
          this.settledDoc = session;
          this.rendersStarted = rendersStarted ?? this.rendersStarted;
          void this.player.open(session);
        },
        renamed: (ids) => this.renamed(ids),
        said: (sentence) => (this.message = this.message ? `${this.message} ${sentence}` : sentence),
        changed: () => this.read(),
      },
      clock,
    );
    void this.machine.open(opened, left).catch((error: unknown) => this.say(error));
    void storage?.watch((waiting) => void this.machine.adopt(waiting), this.ending.signal);
  }

  private show(doc: Session): void {
    this.held = this.doc = doc;
    this.header = doc.header;
  }

  private setTrial(trial: Trial | undefined): void {
    this.tried = this.trial = trial;
  }

  /** Where changes are that wait, as a whole sentence; kept is said of what the browser confirmed alone. */
  get whereabouts(): string {
    const { unsaved } = this;
    const what = unsaved === 1 ? '1 change is' : `${unsaved} changes are`;
    if (this.saving === 'kept')
      return `${what} kept here until the server has ${unsaved === 1 ? 'it' : 'them'}.`;
    return this.saving === 'waiting' ? `${what} in this tab alone; do not close it yet.` : '';
  }

  /** Takes over what the machine says of itself. */
  private read(): void {
    const { state, unsent, trouble, undoable, redoable } = this.machine;
    [this.saving, this.unsaved, this.trouble] = [state, unsent, trouble];
    this.undoLabel = undoable[0]?.label;
    this.redoLabel = redoable[0]?.label;
    this.letIn();
  }

  /** A change of others comes in under what is tried out, which is then put on again. */
  private letIn(): void {
    const { machine } = this;
    if (this.tried && machine.tries && machine.behind && machine.unsent === 0) machine.cancelLive();
    else this.showTrial();
  }

  /** Follows changes that others make, and tries at once when the network is back. */
  follow(): () => void {
    const ended = followRevisions(
      () => api.events(this.id),
      (revision) => {
        this.machine.heard(revision);
        this.letIn();
      },
    );
    const back = () => this.machine.resume();
    addEventListener('online', back);
    return () => {
      ended();
      removeEventListener('online', back);
    };
  }

  /** What a strip is called everywhere. */
  nameOf(strip: number | null): string {
    return (strip !== null && this.names.get(strip)) || 'Nothing';
  }

  say(error: unknown): void {
    this.message = error instanceof Error ? error.message : String(error);
  }

  /** Applies an edit here and sends it; false where the core refuses, with a message. */
  apply(edit: Edit): boolean {
    this.message = '';
    const { tried } = this;
    if (tried && takesUp(edit, tried)) {
      this.tell(`Kept with it: ${tried.name}`);
      this.setTrial(undefined);
    }
    try {
      const { label, lost } = this.machine.do(edit);
      if (lost.length > 0) this.tell(`${label}. Gone with it: ${lost.join(', ')}.`, label);
      return true;
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.message = `Not done: ${error.message}.`;
      return false;
    } finally {
      this.showTrial();
    }
  }

  /** Applies an edit, and asks before where something that somebody made would go with it. */
  applySure(edit: Edit, then: () => void = () => {}): void {
    const losses = this.desk.losses(edit);
    if (losses.length > 0) this.asking = { edit, losses, then };
    else if (this.apply(edit)) then();
  }

  /** What somebody said who was asked. */
  answer(sure: boolean): void {
    const { asking } = this;
    this.asking = undefined;
    if (sure && asking && this.apply(asking.edit)) asking.then();
  }

  /** Shows and plays an edit, in this tab alone, until it is kept or put back; other changes go on beside it. */
  startTrial(name: string, edit: Edit, heard = false): void {
    this.setTrial(undefined);
    this.machine.cancelLive();
    this.setTrial({ name, edit, heard, base: this.held.parts });
    this.showTrial();
  }

  /** Makes what is tried out a change like any other. */
  keepTrial(): void {
    const { tried: trial } = this;
    this.setTrial(undefined);
    if (trial) this.apply(trial.edit);
  }

  /** Takes back what is tried out, and says so. */
  dropTrial(): void {
    if (!this.tried) return;
    this.tell(`Put back: ${this.tried.name}`);
    this.endTrial();
  }

  /** Takes back what is tried out, where that is plain to see. */
  endTrial(): void {
    this.setTrial(undefined);
    this.machine.cancelLive();
  }

  private showTrial(): void {
    const { tried: trial, machine } = this;
    if (!trial || machine.tries || machine.behind) return;
    const { parts } = this.held;
    if (trial.base !== parts) this.setTrial({ ...trial, base: parts });
    this.trying = true;
    try {
      machine.try(trial.edit);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.setTrial(undefined);
    } finally {
      this.trying = false;
    }
  }

  /**
   * Says for a moment what was done beside what was asked.
   *
   * @param undo the step that can be undone there, by its label
   */
  tell(sentence: string, undo?: string): void {
    this.walked = { sentence, at: performance.now(), ...(undo === undefined ? {} : { undo }) };
  }

  /** Which of some edits the core would refuse, and why. */
  fit(edits: Edit[]): (string | undefined)[] {
    return this.machine.fit(edits);
  }

  /** Shows and plays an edit that is still being made, such as a fader under the pointer. */
  try(edit: Edit): void {
    this.trying = true;
    const { tried: trial } = this;
    try {
      const beside = trial && !takesUp(edit, trial);
      this.machine.try(beside ? { kind: 'batch', edits: [trial.edit, edit] } : edit);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
    } finally {
      this.trying = false;
    }
  }

  /** Takes back what `try` showed. */
  cancelLive(): void {
    this.machine.cancelLive();
    this.showTrial();
  }

  undo = (): void => {
    if (this.tried) this.dropTrial();
    else this.undoStep();
  };
  private undoStep = (): void => this.walk('Undone', this.undoLabel, () => this.machine.undo());
  redo = (): void => this.walk('Done again', this.redoLabel, () => this.machine.redo());

  private walk(what: string, label: string | undefined, go: () => void): void {
    this.message = '';
    if (label !== undefined) this.tell(`${what}: ${label}`);
    go();
  }

  /** Waits until the server has every change. Throws where something keeps it from that. */
  settled(): Promise<void> {
    return this.machine.settled();
  }

  /** Sends what waits again, after somebody signed in or wants it tried. */
  resume = (): void => this.machine.resume();

  /** Gives up the change that cannot be saved. */
  leaveOut = (): void => this.machine.leaveOut();

  async close(): Promise<void> {
    this.ending.abort();
    this.machine.close();
    await this.storage?.close();
  }
}
