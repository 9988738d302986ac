/** What measuring runs over the loop found, and how far the one under way is. */
import type { Edit, Goal, RecordedHits, Session, SideFigures } from '$lib/api/types';
import { loadModule } from '$lib/audio/desk';
import type { Ducked, Found, GaugeAnswer, GaugeRun, Pathed, PathsQuestion } from '$lib/audio/messages';
import type { BoardState } from './board.svelte';
import type { SessionState } from './session.svelte';

/** A run with the document and the loop that it was made of. */
export interface Reading {
  found: Found;
  doc: Session;
  from: number;
  to: number;
}

export class Gauge {
  /** How far the run under way is, in 0 to 1; nothing where none is. */
  part = $state<number>();
  /** What it is about, for people. */
  doing = $state('');
  /** Why the last run failed, for people. */
  problem = $state('');
  /** The last whole run of the session as it is. */
  reading = $state.raw<Reading>();
  private worker: Worker | undefined;
  /** Ends the run under way without anything found. */
  private stop: (() => void) | undefined;
  private turn = 0;

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
  ) {}

  get span(): { from: number; to: number } {
    const { board } = this;
    return { from: board.frameOf(board.loopStart), to: board.frameOf(board.loopStart + board.loop.length) };
  }

  /** Whether the last run is of the session and the loop as they are now. */
  get fresh(): boolean {
    const { from, to } = this.span;
    const last = this.reading;
    return last !== undefined && last.doc === this.session.doc && last.from === from && last.to === to;
  }

  /** Measures the session as it is; what is fresh is not measured again. Nothing where the run did not end well. */
  async measure(doing = 'Measuring the loop'): Promise<Reading | undefined> {
    if (this.reading && this.fresh) return this.reading;
    const { doc } = this.session;
    const span = this.span;
    const found = await this.run(doing, [], false);
    if (found) this.reading = { found, doc, ...span };
    return found && this.reading;
  }

  /**
   * One run, with edits applied before, or without processors; none of it changes the session. Nothing where it was
   * called off or failed; `problem` says why.
   */
  async run(doing: string, edits: Edit[], without: boolean): Promise<Found | undefined> {
    const answer = await this.ask(doing, { edits, without, ...this.span });
    return answer?.kind === 'found' ? answer.found : undefined;
  }

  /** What duckers do over a span in frames, and settings by which the one in focus reaches a goal; as with `run`. */
  async ducks(
    doing: string,
    focus: number,
    span: { from: number; to: number },
    { edits = [], goal, room = false }: { edits?: Edit[]; goal?: Goal; room?: boolean } = {},
  ): Promise<Ducked | undefined> {
    const answer = await this.ask(doing, {
      edits,
      without: false,
      ducks: { focus, room, ...(goal ? { goal } : {}) },
      ...span,
    });
    return answer?.kind === 'ducked' ? answer.ducked : undefined;
  }

  /** How parallel paths lie and what they bring, over a span in frames; as with `run`. */
  async paths(
    doing: string,
    span: { from: number; to: number },
    question: PathsQuestion,
  ): Promise<Pathed | undefined> {
    const answer = await this.ask(doing, { edits: [], without: false, paths: question, ...span });
    return answer?.kind === 'pathed' ? answer.pathed : undefined;
  }

  /** How a side sounds over the loop; as with `run`. */
  async side(
    doing: string,
    side: NonNullable<GaugeRun['side']>,
    session?: Session,
  ): Promise<SideFigures | undefined> {
    const what = { edits: [], without: false, side, ...this.span, ...(session ? { session } : {}) };
    const answer = await this.ask(doing, what);
    return answer?.kind === 'heard' ? answer.heard : undefined;
  }

  /** Where a recording hits, by pattern; as with `run`. */
  async recorded(voice: number): Promise<RecordedHits[] | undefined> {
    const what = { edits: [], without: false, recorded: voice, ...this.span };
    const answer = await this.ask('Finding its hits', what);
    return answer?.kind === 'recorded' ? answer.hits : undefined;
  }

  private async ask(
    doing: string,
    what: Omit<GaugeRun, 'module' | 'session'> & { session?: Session },
  ): Promise<GaugeAnswer | undefined> {
    this.cancel();
    const turn = ++this.turn;
    [this.part, this.doing, this.problem] = [0, doing, ''];
    try {
      const module = await loadModule();
      const worker = (this.worker ??= new Worker(new URL('../audio/gauge-worker.ts', import.meta.url), {
        type: 'module',
      }));
      return await new Promise<GaugeAnswer | undefined>((resolve, reject) => {
        this.stop = () => resolve(undefined);
        worker.onerror = () => reject(new Error('The measuring run stopped. Try again.'));
        worker.onmessage = (event: MessageEvent<GaugeAnswer>) => {
          const answer = event.data;
          if (answer.kind === 'progress') this.part = answer.part;
          else if (answer.kind === 'failed') reject(new Error(answer.error));
          else resolve(answer);
        };
        const run: GaugeRun = { module, session: this.session.doc, ...what };
        worker.postMessage(run);
      });
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
      this.close();
      return undefined;
    } finally {
      // One that was called off for another leaves that one's progress alone.
      if (turn === this.turn) this.part = this.stop = undefined;
    }
  }

  /** Stops the run under way; what was found before stays. */
  cancel(): void {
    if (!this.stop) return;
    this.stop();
    this.close();
  }

  close(): void {
    this.worker?.terminate();
    this.worker = undefined;
  }
}
