/** Questions about the session as it is played, one at a time, and how far the one under way is. */
import type { Answer, Edit, Question, Session } from '$lib/api/types';
import { loadModule } from '$lib/audio/desk';
import type { FromGauge, GaugeRun, ToGauge } from '$lib/audio/messages';
import type { BoardState } from './board.svelte';
import { Kept, type Reading } from './kept.svelte';
import type { SessionState } from './session.svelte';

type About = Question['about'];
type QuestionOf<K extends About> = Extract<Question, { about: K }>;
export type AnswerOf<K extends About> = Extract<Answer, { about: K }>;

/** A run over all stations, with what it was of. */
export type LevelsReading = Reading<AnswerOf<'levels'>>;

/** A span of the song, in frames from bar 1. */
export interface Span {
  from: number;
  to: number;
}

/** How a question is asked, where it is not of the session as it is over the loop. */
export interface Asking {
  span?: Span;
  /** Applied to what is measured only. */
  edits?: Edit[];
  session?: Session;
  /** Names what is heard: a question about what was heard last is answered without hearing it again. */
  key?: string;
  recording?: NonNullable<GaugeRun['recording']>;
}

/** A worker that does not begin what is asked for so long is in the middle of something that has no pieces. */
const STUCK_MS = 400;

/** How long a run pauses where sound broke. */
const REST_MS = 1000;

const sentence = (words: string) =>
  `${words[0]?.toUpperCase() ?? ''}${words.slice(1)}${/[.!?]$/.test(words) ? '' : '.'}`;

export class Gauge {
  /** How far the run under way is, in 0 to 1; nothing where none is. */
  part = $state<number>();
  /** What it is about, for people. */
  doing = $state('');
  /** Why the last run failed, for people. */
  problem = $state('');
  /** What all stations carry over the loop. */
  private readonly levels: Kept<AnswerOf<'levels'>>;
  private worker: Worker | undefined;
  /** Ends the run under way without anything found. */
  private stop: (() => void) | undefined;
  private turn = 0;
  /** Whether the worker is yet to say that what was called off ended. */
  private ending = false;

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
  ) {
    this.levels = new Kept(session, () => this.span);
  }

  get span(): Span {
    const { board } = this;
    return { from: board.frameOf(board.loopStart), to: board.frameOf(board.loopStart + board.loop.length) };
  }

  /** The last whole run over all stations. */
  get reading(): LevelsReading | undefined {
    return this.levels.reading;
  }

  /** Whether that is of the session and the loop as they are now. */
  get fresh(): boolean {
    return this.levels.fresh;
  }

  /** Measures the session as it is; what is fresh is not measured again. Nothing where the run did not end well. */
  async measure(doing = 'Measuring the loop'): Promise<LevelsReading | undefined> {
    if (this.fresh) return this.reading;
    return this.levels.hear(() => this.ask(doing, { about: 'levels', without: false }));
  }

  /**
   * Asks something of the session without what is tried out or held, as it stands now: that is what findings are filed
   * under. Nothing where it was called off or failed; `problem` says why.
   */
  async ask<K extends About>(
    doing: string,
    question: QuestionOf<K>,
    { span = this.span, edits = [], session = this.session.settledDoc, key, recording }: Asking = {},
  ): Promise<AnswerOf<K> | undefined> {
    this.cancel();
    const turn = ++this.turn;
    [this.part, this.doing, this.problem] = [0, doing, ''];
    let stuck: ReturnType<typeof setTimeout> | undefined;
    try {
      const module = await loadModule();
      if (turn !== this.turn) return undefined;
      const answer = await new Promise<Answer | undefined>((resolve, reject) => {
        this.stop = () => resolve(undefined);
        const run: GaugeRun = {
          ...{ module, turn, question, heard: JSON.stringify({ session, edits }) },
          ...span,
          ...(key === undefined ? {} : { key }),
          ...(recording ? { recording } : {}),
        };
        const post = () => {
          const worker = this.hired();
          worker.onerror = () => reject(new Error('The measuring run stopped. Try again.'));
          worker.onmessage = (event: MessageEvent<FromGauge>) => {
            const said = event.data;
            if (said.kind === 'ended' || said.turn === this.turn) this.ending = false;
            // What was called off may still say how far it is.
            if (said.turn !== turn || turn !== this.turn) return;
            if (said.kind === 'progress') this.part = said.part;
            else if (said.kind === 'failed') reject(new Error(sentence(said.error)));
            else resolve(said.kind === 'answer' ? said.answer : undefined);
          };
          worker.postMessage({ kind: 'ask', ...run } satisfies ToGauge);
        };
        if (this.ending)
          stuck = setTimeout(() => {
            if (!this.ending || turn !== this.turn) return;
            this.close();
            post();
          }, STUCK_MS);
        post();
      });
      return answer?.about === question.about ? (answer as AnswerOf<K>) : undefined;
    } catch (error) {
      this.problem = error instanceof Error ? error.message : String(error);
      this.close();
      return undefined;
    } finally {
      clearTimeout(stuck);
      // One that was called off for another leaves that one's progress alone.
      if (turn === this.turn) this.part = this.stop = undefined;
    }
  }

  private hired(): Worker {
    this.worker ??= new Worker(new URL('../audio/gauge-worker.ts', import.meta.url), { type: 'module' });
    return this.worker;
  }

  /** Stops the run under way, between two pieces; what was found before stays. */
  cancel(): void {
    if (this.part === undefined) return;
    // One whose module is still being loaded is not begun any more.
    this.turn += 1;
    this.part = undefined;
    if (!this.stop) return;
    this.ending = true;
    this.worker?.postMessage({ kind: 'cancel' } satisfies ToGauge);
    this.stop();
    this.stop = undefined;
  }

  /** Sound broke beside it: a run under way pauses after the piece that it is in. */
  rest(): void {
    if (this.part !== undefined) this.worker?.postMessage({ kind: 'rest', ms: REST_MS } satisfies ToGauge);
  }

  close(): void {
    this.ending = false;
    this.worker?.terminate();
    this.worker = undefined;
  }
}
