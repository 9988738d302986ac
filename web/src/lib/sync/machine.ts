/**
 * What becomes of changes between a hand and the server. Each is applied here at once, kept in the browser, sent in its
 * order, and confirmed; nothing that was kept or saved is lost, nothing happens twice, and no change lands on another thing
 * than it was made for. No component, no timer of its own beside pauses: tests drive it with random failures.
 */
import { ApiError } from '$lib/api/problem';
import type { Done, Edit, EditDone, Made, OpenSession } from '$lib/api/types';
import { Refused } from '$lib/audio/refused';
import { Pauses } from './pauses';
import type { Core, Keep, SaveState, Step, SyncServer, Told, Trouble, Waiting } from './types';

/** Steps held. */
const STEPS = 50;

type Clock = { pause(ms: number): Promise<void>; now(): number; id(): string };

const reason = (error: unknown) => (error instanceof Error ? error.message : String(error));
const sameThings = (a: Made[], b: Made[]) =>
  a.length === b.length && a.every((m, n) => m.thing === b[n]?.thing);

export class Machine {
  revision = 0;
  /** Steps that can be undone, and done again, the next one first. */
  undoable: Step[] = [];
  redoable: Step[] = [];
  trouble: Trouble | undefined;

  private waiting: Waiting[] = [];
  /** What each waiting edit did here, to take it back before it is sent; and the steps that it made unreachable. */
  private readonly done = new Map<string, { applied: Done; redoable: Step[] }>();
  /** The change that a person gave up. */
  private leaving: string | undefined;
  /** Steps whose ways are on their way here. */
  private readonly fetching = new Set<string>();
  /** Who waits for something to change. */
  private waiters: (() => void)[] = [];
  private running: Promise<void> = Promise.resolve();
  private going = false;
  private live: Done | undefined;
  /** The newest revision that was heard of. */
  private newest = 0;
  private saves = 0;
  private keptUpTo = 0;
  private readonly pauses = new Pauses();
  private wake: () => void = () => {};
  private closed = false;

  constructor(
    private readonly core: Core,
    private readonly server: SyncServer,
    private readonly keep: Keep,
    private readonly told: Told,
    private readonly clock: Clock,
  ) {}

  /** Where the newest change is. */
  get state(): SaveState {
    if (this.waiting.length === 0) return 'saved';
    return this.keptUpTo === this.saves ? 'kept' : 'waiting';
  }

  /** How many changes the server does not have yet. */
  get unsent(): number {
    return this.waiting.length;
  }

  /** Takes a session as the server gave it, and puts what waited in an earlier life of a tab on top of it. */
  async open(opened: OpenSession, left: Waiting[] = []): Promise<void> {
    this.take(opened);
    if (left.length > 0) await this.adopt(left);
  }

  /** Takes over what another tab left behind. */
  async adopt(left: Waiting[]): Promise<void> {
    this.cancelLive();
    this.waiting.push(...left);
    this.persist();
    await this.run(async () => {
      await this.insist(() => this.catchUp());
    });
    this.pump();
  }

  private take(opened: OpenSession): void {
    this.core.open(opened.document);
    this.revision = opened.revision;
    this.newest = Math.max(this.newest, opened.revision);
    this.undoable = opened.undo.map((step) => ({ ...step }));
    this.redoable = opened.redo.map((step) => ({ ...step }));
    for (const remark of opened.remarks) this.told.said(remark);
    this.told.opened(this.core.document(), { rendersStarted: opened.renders_started });
    this.changed();
  }

  /** Applies an edit here and sends it on. Throws `Refused` where the core refuses. */
  do(edit: Edit): Done {
    this.cancelLive();
    const applied = this.core.apply(edit);
    const item: Waiting = {
      kind: 'edit',
      id: this.clock.id(),
      label: applied.label,
      at: this.clock.now(),
      edit,
      made: applied.made,
    };
    this.done.set(item.id, { applied, redoable: this.redoable });
    this.pushStep({ id: item.id, label: applied.label, there: applied.there, back: applied.back });
    this.redoable = [];
    try {
      this.told.patched(applied.there);
    } finally {
      // Whatever becomes of the screen, what was done is sent.
      this.enqueue(item);
    }
    return applied;
  }

  /** Which of some edits, one after the other, the core would refuse, and why. */
  fit(edits: Edit[]): (string | undefined)[] {
    this.cancelLive();
    const backs: Done['back'][] = [];
    const tried = (edit: Edit) => {
      try {
        backs.push(this.core.apply(edit).back);
        return undefined;
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        return error.message;
      }
    };
    const reasons = edits.map(tried);
    backs.reverse().forEach((back) => this.core.takeBack(back));
    return reasons;
  }

  /** Shows an edit that is still being made. */
  try(edit: Edit): void {
    this.cancelLive();
    this.live = this.core.apply(edit);
    this.told.patched(this.live.there);
  }

  /** Whether something is shown that is still being made. */
  get tries(): boolean {
    return this.live !== undefined;
  }

  /** Whether others changed what is not here yet. */
  get behind(): boolean {
    return this.newest > this.revision;
  }

  /** Takes back what `try` showed. */
  cancelLive(): void {
    const live = this.live;
    if (!live) return;
    this.live = undefined;
    this.core.takeBack(live.back);
    this.told.patched(live.back);
    // A change of others may have waited for this.
    if (this.newest > this.revision) this.pump();
  }

  private pushStep(step: Step): void {
    this.undoable = [step, ...this.undoable].slice(0, STEPS);
  }

  private enqueue(item: Waiting): void {
    this.waiting.push(item);
    this.persist();
    this.pump();
  }

  private persist(): void {
    this.saves += 1;
    const version = this.saves;
    this.keep.save(this.waiting.slice()).then(
      () => {
        this.keptUpTo = Math.max(this.keptUpTo, version);
        this.changed();
      },
      () => undefined,
    );
    this.changed();
  }

  /** One step back; what it undid, or a sentence where it cannot be. */
  undo(): void {
    this.cancelLive();
    const step = this.undoable[0];
    if (!step) return;
    const last = this.waiting.at(-1);
    const known = this.done.get(step.id);
    if (last?.id === step.id && !last.tried && known && last.kind === 'edit') {
      // Nobody has seen it: it never happened.
      this.waiting.pop();
      this.done.delete(step.id);
      this.core.takeBack(known.applied.back);
      this.undoable = this.undoable.slice(1);
      this.redoable = [{ ...step, edit: last.edit }];
      this.told.patched(known.applied.back);
      this.persist();
      return;
    }
    if (!step.back) return this.fetched(step, 'Undone', () => this.undo());
    this.core.patch(step.back);
    this.undoable = this.undoable.slice(1);
    this.redoable = [step, ...this.redoable];
    this.told.patched(step.back);
    this.enqueue({
      kind: 'undo',
      id: this.clock.id(),
      label: step.label,
      at: this.clock.now(),
      step: step.id,
    });
  }

  /** The step that was undone last, again. */
  redo(): void {
    this.cancelLive();
    const step = this.redoable[0];
    if (!step) return;
    if (step.edit) {
      const rest = this.redoable.slice(1);
      try {
        this.do(step.edit);
        this.redoable = rest;
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        this.redoable = rest;
        this.told.said(`“${step.label}” was not done again: ${error.message}.`);
      }
      this.changed();
      return;
    }
    if (!step.there) return this.fetched(step, 'Done again', () => this.redo());
    this.core.patch(step.there);
    this.redoable = this.redoable.slice(1);
    this.pushStep(step);
    this.told.patched(step.there);
    this.enqueue({
      kind: 'redo',
      id: this.clock.id(),
      label: step.label,
      at: this.clock.now(),
      step: step.id,
    });
  }

  /** Asks for the ways of a large step, and goes on where it is still the next one. */
  private fetched(step: Step, what: 'Undone' | 'Done again', go: () => void): void {
    if (this.fetching.has(step.id)) return;
    this.fetching.add(step.id);
    const isNext = () => !this.closed && (this.undoable[0] === step || this.redoable[0] === step);
    this.told.said(`Fetching what “${step.label}” changed.`);
    this.waysOf(step)
      .then(
        (there) => {
          if (there && isNext()) {
            go();
            this.told.said(`${what}: ${step.label}`);
          } else
            this.told.said(
              `Not ${what.toLowerCase()}: “${step.label}” ${there ? 'is not the next step any more' : 'was made too long ago'}.`,
            );
        },
        (error: unknown) => {
          if (!(error instanceof ApiError)) throw error;
          this.told.said(
            `Not ${what.toLowerCase()}: what “${step.label}” changed is not here. ${error.message}`,
          );
        },
      )
      .catch((error: unknown) => this.told.said(reason(error)))
      .finally(() => {
        this.fetching.delete(step.id);
        this.changed();
      });
    this.changed();
  }

  /** Fills in what a step changed; says no where the server does not know it any more. */
  private async waysOf(step: Pick<Step, 'id' | 'there' | 'back'>): Promise<boolean> {
    try {
      const { there, back } = await this.server.step(step.id);
      [step.there, step.back] = [there, back];
      return true;
    } catch (error) {
      if (error instanceof ApiError && error.status === 404) return false;
      throw error;
    }
  }

  /** A revision that the server told of. */
  heard(revision: number): void {
    this.newest = Math.max(this.newest, revision);
    if (this.newest > this.revision) this.pump();
  }

  /** Goes on after trouble: somebody signed in, or wants it tried again. */
  resume(): void {
    this.trouble = undefined;
    this.pauses.reset();
    this.changed();
    this.wake();
    this.pump();
  }

  /** Gives the change up that trouble is about, and what builds on it. */
  leaveOut(): void {
    this.leaving = this.waiting[0]?.id;
    this.resume();
  }

  /** Waits until the server has every change. Throws where trouble keeps it from that. */
  async settled(): Promise<void> {
    while (this.waiting.length > 0) {
      if (this.trouble) throw new Error(this.trouble.sentence);
      await new Promise<void>((resolve) => this.waiters.push(resolve));
    }
  }

  private changed(): void {
    this.told.changed();
    const waiters = this.waiters;
    this.waiters = [];
    waiters.forEach((wake) => wake());
  }

  close(): void {
    this.closed = true;
    this.wake();
  }

  private pump(): void {
    if (this.going || this.closed) return;
    this.run(() => this.work()).catch((error: unknown) => this.told.said(reason(error)));
  }

  /** One thing at a time: sending, catching up, taking over. */
  private run(work: () => Promise<void>): Promise<void> {
    const before = this.running;
    this.going = true;
    const mine = (async () => {
      await before;
      await work();
    })();
    // One that fails does not keep the next from running.
    this.running = mine.catch(() => undefined);
    const ended = this.running;
    return mine.finally(() => {
      if (this.running === ended) this.going = false;
      this.changed();
    });
  }

  private async work(): Promise<void> {
    while (!this.closed) {
      const head = this.waiting[0];
      if (!head) {
        if (this.newest <= this.revision || this.live) return;
        await this.insist(() => this.catchUp());
        continue;
      }
      await this.insist(() => this.sendOne(head));
    }
  }

  private async sendOne(head: Waiting): Promise<void> {
    if (this.leaving === head.id) return this.refuse(head, 'you left it out');
    head.tried = true;
    let answer: EditDone;
    try {
      answer = await this.server.send(head, this.revision);
    } catch (error) {
      if (error instanceof ApiError && error.status === 409) return this.catchUp();
      if (error instanceof ApiError && error.kind === 'edit-refused') return this.refuse(head, error.reason);
      throw error;
    }
    await this.confirm(head, answer);
  }

  private async confirm(head: Waiting, answer: EditDone): Promise<void> {
    const next = answer.revision === this.revision + 1;
    const as = head.kind !== 'edit' || JSON.stringify(head.made) === JSON.stringify(answer.made ?? head.made);
    if (next && as) {
      this.revision = answer.revision;
      this.newest = Math.max(this.newest, this.revision);
      this.drop(head);
      return;
    }
    // It went through long ago, or others came between: what the server has counts.
    await this.catchUp();
  }

  private drop(item: Waiting): void {
    this.waiting = this.waiting.filter((w) => w.id !== item.id);
    this.done.delete(item.id);
    this.persist();
  }

  /** Tries until it works or needs a person. Throws what is no answer of the server. */
  private async insist(work: () => Promise<void>): Promise<void> {
    for (;;) {
      if (this.closed) return;
      try {
        await work();
        this.trouble = undefined;
        this.pauses.reset();
        this.changed();
        return;
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        this.trouble = this.troubleOf(error);
        this.changed();
        if (this.trouble.then === 'again') {
          await Promise.race([
            this.clock.pause(error.retryAfterMs ?? this.pauses.grow()),
            new Promise<void>((resolve) => (this.wake = resolve)),
          ]);
        } else {
          await new Promise<void>((resolve) => (this.wake = resolve));
        }
      }
    }
  }

  private troubleOf(error: ApiError): Trouble {
    if (error.status === 401) return { sentence: 'You are signed out.', then: 'sign-in' };
    if (error.status === 0 || error.status === 429 || error.status >= 500)
      return { sentence: error.message, then: 'again' };
    const label = this.waiting[0]?.label;
    const what = label ? `“${label}” cannot be saved: ` : '';
    return { sentence: `${what}${error.message}`, then: 'ask' };
  }

  private walkSteps(change: EditDone): void {
    if (change.kind === 'edit') {
      this.pushStep({ id: change.step, label: change.label, there: change.patch, back: change.back });
      this.redoable = [];
      return;
    }
    const [from, to] =
      change.kind === 'undo' ? [this.undoable, this.redoable] : [this.redoable, this.undoable];
    const step = from.find((s) => s.id === change.step) ?? {
      id: change.step,
      label: change.label,
      there: change.kind === 'redo' ? change.patch : null,
      back: change.kind === 'undo' ? change.patch : null,
    };
    const rest = from.filter((s) => s.id !== change.step);
    [this.undoable, this.redoable] =
      change.kind === 'undo' ? [rest, [step, ...to]] : [[step, ...to].slice(0, STEPS), rest];
  }

  /** What the server has, with what waits on top: by the changes that are missing here where they say it. */
  private async catchUp(): Promise<void> {
    const missing = this.canFollow ? await this.missing() : [];
    // A hand may have gone on meanwhile.
    if (missing.length > 0 && this.canFollow) return this.follow(missing);
    await this.rebase(await this.server.open());
  }

  /** Whether what was done here can be taken back, to be put on top of what others did. */
  private get canFollow(): boolean {
    return this.waiting.every((item) => item.kind === 'edit' && this.done.has(item.id));
  }

  /** The changes behind what is here; none where they are not told any more. */
  private async missing(): Promise<EditDone[]> {
    try {
      const changes = await this.server.changesAfter(this.revision);
      return changes.every((c) => c.patch) && changes[0]?.revision === this.revision + 1 ? changes : [];
    } catch (error) {
      if (error instanceof ApiError && error.status === 404) return [];
      throw error;
    }
  }

  /** Takes what waits back, puts the changes on, and what still waits again on top. */
  private follow(changes: EditDone[]): void {
    this.cancelLive();
    const waiting = this.waiting;
    for (const item of waiting.slice().reverse()) {
      const done = this.done.get(item.id);
      if (!done) throw new Error('what waits cannot be taken back');
      this.core.takeBack(done.applied.back);
      this.told.patched(done.applied.back);
      this.undoable = this.undoable.slice(1);
      this.redoable = done.redoable;
    }
    this.done.clear();
    const ids = new Map<number, number>();
    const lost = new Map<number, string>();
    for (const change of changes) {
      if (!change.patch) throw new Error('a change without its patch cannot be followed');
      this.core.patch(change.patch);
      this.revision = change.revision;
      this.walkSteps(change);
      this.told.patched(change.patch);
      const own = waiting.find((w) => w.id === change.id);
      if (own?.kind === 'edit') this.matchIds(own, change.made ?? [], ids, lost);
    }
    this.newest = Math.max(this.newest, this.revision);
    const there = new Set(changes.map((c) => c.id));
    this.putAgain(
      waiting.filter((w) => !there.has(w.id)),
      ids,
      lost,
    );
    if (waiting.length > 0) this.persist();
    this.changed();
  }

  /** Puts what waits on top of the document as it is now. */
  private putAgain(waiting: Waiting[], ids: Map<number, number>, lost: Map<number, string>): void {
    this.waiting = [];
    for (const item of waiting) {
      const again = item.kind === 'edit' ? this.applyAgain(item, ids, lost) : this.walkAgain(item);
      if (again) this.waiting.push(again);
      else if (item.kind === 'edit') for (const { id } of item.made) lost.set(id, item.label);
    }
    const renamed = new Map([...ids].filter(([from, to]) => from !== to));
    if (renamed.size > 0) this.told.renamed(renamed);
  }

  /** The server refuses an edit: it goes alone, with what builds on it. */
  private async refuse(item: Waiting, why: string): Promise<void> {
    await this.rebase(await this.server.open(), { item, why });
  }

  /**
   * Puts what waits on top of the document as the server has it. What went through already is left out; ids of things
   * that waiting edits made are what they are now; what builds on something that is gone goes with it.
   */
  private async rebase(opened: OpenSession, refused?: { item: Waiting; why: string }): Promise<void> {
    const ids = new Map<number, number>();
    const lost = new Map<number, string>();
    if (this.waiting.length > 0) {
      const known = await this.server.known(this.waiting.map((w) => w.id));
      // What went through after the session was fetched is not in it yet.
      if (known.some((answer) => answer.revision > opened.revision)) return this.catchUp();
      await this.waysOfWalks(opened, known);
      for (const answer of known) {
        const item = this.waiting.find((w) => w.id === answer.id);
        if (item?.kind === 'edit') this.matchIds(item, answer.made ?? [], ids, lost);
        this.waiting = this.waiting.filter((w) => w.id !== answer.id);
      }
    }
    if (refused) {
      this.waiting = this.waiting.filter((w) => w.id !== refused.item.id);
      if (refused.item.kind === 'edit')
        for (const { id } of refused.item.made) lost.set(id, refused.item.label);
      this.told.said(`“${refused.item.label}” was taken back: ${refused.why}.`);
    }
    // What was tried out goes; the hand that tries it tries on.
    this.live = undefined;
    const waiting = this.waiting;
    this.done.clear();
    this.take(opened);
    this.putAgain(waiting, ids, lost);
    this.persist();
  }

  /** What waits to be undone or done again may be a large step, whose ways do not come with the session. */
  private async waysOfWalks(opened: OpenSession, known: EditDone[]): Promise<void> {
    const done = new Set(known.map((answer) => answer.id));
    const wanted = new Set(
      this.waiting.flatMap((w) => (w.kind === 'edit' || done.has(w.id) ? [] : [w.step])),
    );
    for (const step of [...opened.undo, ...opened.redo])
      if (wanted.has(step.id) && !(step.there && step.back)) await this.waysOf(step);
  }

  /** Pairs the things that an edit made before with those that it makes now. */
  private matchIds(
    item: Waiting & { kind: 'edit' },
    now: Made[],
    ids: Map<number, number>,
    lost: Map<number, string>,
  ): void {
    if (sameThings(item.made, now)) item.made.forEach(({ id }, n) => ids.set(id, now[n]?.id ?? id));
    else for (const { id } of item.made) lost.set(id, item.label);
  }

  private applyAgain(
    item: Waiting & { kind: 'edit' },
    ids: Map<number, number>,
    lost: Map<number, string>,
  ): Waiting | undefined {
    const named = this.core.ids(item.edit);
    const missing = named.find((id) => lost.has(id));
    if (missing !== undefined) {
      this.told.said(`“${item.label}” was taken back: it builds on “${lost.get(missing)}”, which is gone.`);
      return undefined;
    }
    const moved = [...ids].filter(([from, to]) => from !== to);
    const edit =
      moved.length > 0 && named.some((id) => ids.has(id)) ? this.core.mapped(item.edit, moved) : item.edit;
    try {
      const applied = this.core.apply(edit);
      this.told.patched(applied.there);
      this.matchIds(item, applied.made, ids, lost);
      const again = { ...item, edit, made: applied.made, label: applied.label };
      this.done.set(again.id, { applied, redoable: this.redoable });
      this.pushStep({ id: again.id, label: applied.label, there: applied.there, back: applied.back });
      this.redoable = [];
      return again;
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      this.told.said(`“${item.label}” was taken back: ${reason(error)}.`);
      return undefined;
    }
  }

  private walkAgain(item: Waiting & { kind: 'undo' | 'redo' }): Waiting | undefined {
    const undo = item.kind === 'undo';
    const step = (undo ? this.undoable : this.redoable)[0];
    const patch = undo ? step?.back : step?.there;
    if (!step || !patch || step.id !== item.step) {
      const what = undo ? 'Undoing' : 'Doing';
      const end = undo ? '' : ' again';
      this.told.said(`${what} “${item.label}”${end} was dropped: something else was changed meanwhile.`);
      return undefined;
    }
    this.core.patch(patch);
    this.told.patched(patch);
    if (undo) {
      this.undoable = this.undoable.slice(1);
      this.redoable = [step, ...this.redoable];
    } else {
      this.redoable = this.redoable.slice(1);
      this.pushStep(step);
    }
    return item;
  }
}
