/** The open session: edits at once here, then at the server; undo, and what other tabs change. */
import { api, ApiError } from '$lib/api/client';
import type { Applied, Change, Edit, EditDone, OpenSession, Patch, Session } from '$lib/api/types';
import { Desk, Refused } from '$lib/audio/desk';
import type { Player } from '$lib/audio/player.svelte';

/** Pause before a request that did not reach the server is tried again, in ms. */
const RETRY_MS = 1000;

export type SaveState = 'saved' | 'saving' | 'waiting';

function changed<T>(list: T[], change: Change<T> | undefined): T[] {
  if (!change) return list;
  return change.order.map(
    (place) => (place < list.length ? list[place] : change.set[place - list.length]) as T,
  );
}

/** The document after a patch; lists that did not change stay the same objects. */
function patched(doc: Session, patch: Patch): Session {
  return {
    ...doc,
    header: patch.header ?? doc.header,
    next_id: patch.next_id ?? doc.next_id,
    assets: changed(doc.assets, patch.assets),
    voices: changed(doc.voices, patch.voices),
    strips: changed(doc.strips, patch.strips),
    patterns: changed(doc.patterns, patch.patterns),
    parts: changed(doc.parts, patch.parts),
    takes: changed(doc.takes, patch.takes),
    sections: changed(doc.sections, patch.sections),
    stem_plan: patch.stem_plan ?? doc.stem_plan,
    dismissed: patch.dismissed ?? doc.dismissed,
  };
}

export class SessionState {
  readonly id: string;
  doc: Session;
  revision = 0;
  canUndo = $state(false);
  canRedo = $state(false);
  rendersStarted = $state(0);
  saving = $state<SaveState>('saved');
  /** A sentence for people about what was not done. */
  message = $state('');

  private queue: Edit[] = [];
  private busy = false;
  private sent: Promise<void> = Promise.resolve();
  private newest = 0;
  private live: Applied | undefined;
  private events: EventSource | undefined;

  constructor(
    opened: OpenSession,
    readonly desk: Desk,
    readonly player: Player,
  ) {
    this.id = opened.id;
    this.doc = $state.raw(opened.document);
    this.adopt(opened);
  }

  private adopt(opened: OpenSession): void {
    this.doc = opened.document;
    this.revision = opened.revision;
    this.newest = Math.max(this.newest, opened.revision);
    this.canUndo = opened.can_undo;
    this.canRedo = opened.can_redo;
    this.rendersStarted = opened.renders_started;
    this.live = undefined;
    this.desk.open(opened.document);
    void this.player.open(opened.document);
  }

  /** Follows changes that other tabs make. */
  follow(): () => void {
    this.events = api.events(this.id);
    this.events.addEventListener('revision', (event) => {
      this.newest = Math.max(this.newest, Number((event as MessageEvent<string>).data));
      void this.catchUp();
    });
    return () => this.events?.close();
  }

  private async catchUp(): Promise<void> {
    if (this.busy || this.live || this.newest <= this.revision) return;
    try {
      const opened = await api.session(this.id);
      if (!this.busy && !this.live && opened.revision > this.revision) this.adopt(opened);
    } catch (error) {
      this.say(error);
    }
  }

  say(error: unknown): void {
    this.message = error instanceof Error ? error.message : String(error);
  }

  private show(patch: Patch): void {
    this.doc = patched(this.doc, patch);
    this.player.patch(patch);
  }

  /** Applies an edit here and sends it; false where the core refuses, with a message. */
  apply(edit: Edit): boolean {
    this.cancelLive();
    try {
      this.show(this.desk.apply(edit).there);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.message = `Not done: ${error.message}.`;
      return false;
    }
    this.message = '';
    this.canUndo = true;
    this.canRedo = false;
    this.queue.push(edit);
    if (!this.busy) this.sent = this.send();
    return true;
  }

  /** Shows and plays an edit that is still being made, such as a fader under the pointer. */
  try(edit: Edit): void {
    this.cancelLive();
    try {
      this.live = this.desk.apply(edit);
      this.show(this.live.there);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
    }
  }

  /** Takes back what `try` showed. */
  cancelLive(): void {
    const live = this.live;
    if (!live) return;
    this.live = undefined;
    this.desk.patch(live.back);
    this.show(live.back);
  }

  private async send(): Promise<void> {
    if (this.busy) return;
    this.busy = true;
    this.saving = 'saving';
    while (this.queue.length > 0) {
      try {
        const done = await api.edit(this.id, this.revision, this.queue[0] as Edit);
        this.queue.shift();
        this.note(done);
      } catch (error) {
        await this.recover(error);
      }
    }
    this.busy = false;
    this.saving = 'saved';
    void this.catchUp();
  }

  private note(done: EditDone): void {
    this.revision = done.revision;
    this.canUndo = done.can_undo;
    this.canRedo = done.can_redo;
  }

  private async recover(error: unknown): Promise<void> {
    if (error instanceof ApiError && error.status === 409 && error.current) return this.rebase(error.current);
    if (error instanceof ApiError && [0, 502, 503, 504].includes(error.status)) {
      this.saving = 'waiting';
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
      return;
    }
    // The server refuses it: what it has is what counts.
    this.say(error);
    this.queue = [];
    try {
      this.adopt(await api.session(this.id));
    } catch (again) {
      this.say(again);
    }
  }

  /** Puts edits that wait on top of a document that somebody else changed. */
  private rebase(current: OpenSession): void {
    const waiting = this.queue;
    this.adopt(current);
    this.queue = waiting.filter((edit) => {
      try {
        this.show(this.desk.apply(edit).there);
        return true;
      } catch (error) {
        this.message = `Changed in another tab meanwhile. ${error instanceof Error ? error.message : ''}`;
        return false;
      }
    });
  }

  undo = (): Promise<void> => this.walk(api.undo);
  redo = (): Promise<void> => this.walk(api.redo);

  /** One step back or forth, after everything that was done before it. */
  private walk(step: (id: string) => Promise<EditDone>): Promise<void> {
    this.cancelLive();
    this.sent = this.sent.then(() => this.step(step));
    return this.sent;
  }

  private async step(step: (id: string) => Promise<EditDone>): Promise<void> {
    while (this.busy) await this.sent;
    this.busy = true;
    try {
      const done = await step(this.id);
      this.note(done);
      this.desk.patch(done.patch);
      this.show(done.patch);
      this.message = '';
    } catch (error) {
      this.say(error);
    } finally {
      this.busy = false;
      if (this.queue.length > 0) this.sent = this.send();
      else void this.catchUp();
    }
  }

  /** Waits until the server has every edit. */
  async settled(): Promise<void> {
    await this.sent;
  }

  /** Whether closing the page now would lose something. */
  get unsent(): boolean {
    return this.queue.length > 0;
  }
}
