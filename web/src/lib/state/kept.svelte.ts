/** What was heard of the session over a span, and whether that is still so: one meaning of fresh for whatever is measured. */
import type { Session } from '$lib/api/types';
import type { Gauge, Span } from './gauge.svelte';
import type { SessionState } from './session.svelte';

/** What was found, with what it was found in. */
export interface Reading<T> extends Span {
  found: T;
  doc: Session;
}

export class Kept<T> {
  /** The last whole run. */
  reading = $state.raw<Reading<T>>();

  constructor(
    protected readonly session: SessionState,
    /** What is heard now. */
    readonly span: () => Span,
  ) {}

  /** Whether a reading is of the span as it is. */
  isOfSpan(reading: Reading<T>): boolean {
    const { from, to } = this.span();
    return reading.from === from && reading.to === to;
  }

  /** Whether the last run is of the session and the span as they are. */
  get fresh(): boolean {
    const { reading } = this;
    return reading !== undefined && reading.doc === this.session.settledDoc && this.isOfSpan(reading);
  }

  /** Runs, and keeps what is found under what it was found in. */
  async hear(run: (span: Span) => Promise<T | undefined>): Promise<Reading<T> | undefined> {
    const { settledDoc: doc } = this.session;
    const span = this.span();
    const found = await run(span);
    if (found === undefined) return undefined;
    this.reading = { found, doc, ...span };
    return this.reading;
  }
}

/**
 * Hears again by itself, as long as somebody looks: what changes meanwhile is heard after that, and what was called off or
 * failed rests until it is asked for.
 */
export class Listening<T> extends Kept<T> {
  /** Whether it hears what is looked at, or a question about that is under way. */
  private listening = false;
  private questions = 0;
  /** Whether the run under way ends because nobody looks any more. */
  private left = false;
  /** The session of which a run was called off or failed: it is not begun again by itself. */
  private given = $state.raw<Session>();

  constructor(
    session: SessionState,
    span: () => Span,
    private readonly gauge: Gauge,
    /** Whether all that is looked at was heard as it is. */
    private readonly whole: () => boolean,
  ) {
    super(session, span);
  }

  private get busy(): boolean {
    return this.listening || this.asking;
  }

  /** Whether a question about what is looked at is under way. */
  get asking(): boolean {
    return this.questions > 0;
  }

  /** Whether the last run was called off or failed, so that nothing hears again by itself. */
  get rests(): boolean {
    return this.given === this.session.settledDoc && !this.whole();
  }

  /** Lets what was called off or failed begin by itself again. */
  wake(): void {
    this.given = undefined;
  }

  /** Hears where something changed. Gives what the run gave, and what it was of; nothing where none was begun. */
  async listen<R>(
    run: (span: Span) => Promise<R | undefined>,
  ): Promise<({ found: R; doc: Session } & Span) | undefined> {
    const { settledDoc: doc } = this.session;
    if (this.busy || this.whole() || this.gauge.part !== undefined || this.given === doc) return undefined;
    this.listening = true;
    const span = this.span();
    const found = await run(span);
    this.listening = false;
    // One that made room for another run, or that nobody looked at any more, is begun again later.
    if (found === undefined && this.gauge.part === undefined && !this.left) this.given = doc;
    this.left = false;
    return found === undefined ? undefined : { found, doc, ...span };
  }

  /** A question about what is looked at; nothing where it was called off, as by another, or failed. */
  async ask<R>(run: (span: Span) => Promise<R | undefined>): Promise<R | undefined> {
    this.questions += 1;
    const found = await run(this.span());
    this.questions -= 1;
    return found;
  }

  /** Nobody looks any more: what is under way is called off. */
  leave(): void {
    this.given = undefined;
    if (!this.busy) return;
    this.left = this.listening;
    this.gauge.cancel();
  }
}
