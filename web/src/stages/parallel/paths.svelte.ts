/** How parallel paths lie beside what feeds them and what they bring, as it was heard last; and what mends or finds them. */
import { setProcessor } from '$lib/state/edits';
import type {
  Alignment,
  Blend,
  Comb,
  Edit,
  PathReading,
  PressGoal,
  PressSolved,
  Question,
  ReturnBench,
} from '$lib/api/types';
import type { Player } from '$lib/audio/player.svelte';
import type { BoardState } from '$lib/state/board.svelte';
import type { Gauge, Span } from '$lib/state/gauge.svelte';
import { heardBars, spanOf } from '$lib/state/heard-span';
import { Listening } from '$lib/state/kept.svelte';
import { difference, sameButFader, signed } from './path-words';
import type { SessionState } from '$lib/state/session.svelte';

/** Of the loop, bars are heard that are over within so many seconds. */
const MOST_S = 32;

/** What was heard of parallel paths. */
interface Found {
  key: string;
  path: number | undefined;
  lanes: number[];
  returns: Map<number, Alignment>;
  compared: PathReading[];
  comb: Comb | null;
  bench: ReturnBench | null;
  /** When it was heard, in ms of the page. */
  at: number;
}

/** What is heard in this tab instead of the session as it is. */
export type Heard =
  | {
      kind: 'without';
      /** The return. */
      strip: number;
      heard: 'with' | 'without';
      /** What makes it as loud without as with, in dB. */
      offset: number;
      /** By how much main is down meanwhile, so that nothing gets louder than it was. */
      down: number;
    }
  | { kind: 'mended'; readings: PathReading[]; mended: boolean; mono: boolean };

const same = (a: number[], b: number[]) => a.length === b.length && a.every((x, at) => x === b[at]);

export class Paths {
  /** The return that is looked at, of which more is heard. */
  path = $state<number>();
  /** Rows that are held against the first of them. */
  lanes = $state.raw<number[]>([]);
  /** The one among chosen rows that others are held against. */
  reference = $state<number>();
  /** Figures of the return that is looked at, at its level as it is now, where only that changed since. */
  private later = $state.raw<{ of: Found; blend: Blend; at: number }>();
  /** What is heard instead of the session as it is. */
  heard = $state.raw<Heard>();
  private turn = 0;
  private readonly run: Listening<Found>;

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
    private readonly gauge: Gauge,
    private readonly player: Player,
    /** Keeps the session as it is, by a name, before something that changes much. */
    private readonly keepBefore: (name: string) => Promise<void> = () => Promise.resolve(),
  ) {
    this.run = new Listening(
      session,
      () => spanOf(board, this.bars),
      gauge,
      () => this.fresh,
    );
  }

  private lastReturns: number[] = [];
  /** The returns in the order of the board; the same list as long as they are the same. */
  returns = $derived.by(() => {
    const ids = this.session.doc.strips.filter((s) => s.kind === 'return').map((s) => s.id);
    if (!same(ids, this.lastReturns)) this.lastReturns = ids;
    return this.lastReturns;
  });

  /** Bars of the loop that are heard. */
  get bars(): number {
    return heardBars(this.board, this.session.doc.header.sample_rate, MOST_S);
  }

  /** What was heard last. */
  get reading(): Found | undefined {
    return this.run.reading?.found;
  }

  /** Whether the last run is of the loop and what is looked at, and only the fader of the return changed since. */
  private get holds(): boolean {
    const last = this.run.reading;
    return (
      last !== undefined &&
      this.run.isOfSpan(last) &&
      last.found.path === this.path &&
      same(last.found.lanes, this.lanes) &&
      sameButFader(last.doc, this.session.settledDoc, this.path ?? 0)
    );
  }

  /** Whether all that is shown is of the session and the loop as they are. */
  get fresh(): boolean {
    if (!this.holds) return false;
    const { bench } = this;
    return !bench?.blend || bench.blend.fader_db === this.faderOf(bench.strip);
  }

  /** Whether the last run was called off or failed, so that nothing hears again by itself. */
  get rests(): boolean {
    return this.run.rests;
  }

  again(): void {
    this.run.wake();
    void this.listen();
  }

  private faderOf(strip: number): number | undefined {
    return this.session.settledDoc.strips.find((s) => s.id === strip)?.fader_db;
  }

  /** How a return lies, as it was heard last. */
  of(strip: number): Alignment | undefined {
    return this.reading?.returns.get(strip);
  }

  /** What was heard of the return that is looked at. */
  get bench(): ReturnBench | undefined {
    const { reading, later } = this;
    if (!reading?.bench || reading.bench.strip !== this.path) return undefined;
    return later?.of === reading ? { ...reading.bench, blend: later.blend } : reading.bench;
  }

  /** When the figures of the blend were heard, in ms of the page. */
  get heardAt(): number | undefined {
    const { reading, later } = this;
    return later !== undefined && later.of === reading ? later.at : reading?.at;
  }

  /** Asks about what is looked at: of what was heard last where that still holds. */
  private question(doing: string, span: Span, extra: Partial<Extract<Question, { about: 'paths' }>> = {}) {
    const { path, lanes } = this;
    const key = this.holds && this.reading ? this.reading.key : `${++this.turn}`;
    const asked = { path: path ?? null, lanes };
    const question = {
      about: 'paths',
      asked,
      goal: null,
      budget_db: null,
      fader_db: null,
      ...extra,
    } as const;
    return { key, answer: this.gauge.ask(doing, question, { span, key }) };
  }

  /** Hears again where something changed: all of it, or what lies behind the return where only its fader did. */
  async listen(): Promise<void> {
    const { path, lanes, reading, holds } = this;
    const fader = path === undefined ? undefined : this.faderOf(path);
    let key = '';
    const heard = await this.run.listen((span) => {
      const extra = holds && fader !== undefined ? { fader_db: fader } : {};
      const asked = this.question(holds ? 'Hearing the blend' : 'Hearing parallel paths', span, extra);
      key = asked.key;
      return asked.answer;
    });
    if (!heard) return;
    const { found: pathed, doc, from, to } = heard;
    const at = performance.now();
    if (holds && reading) {
      if (pathed.at) this.later = { of: reading, blend: pathed.at, at };
      return;
    }
    const returns = new Map(pathed.returns.map((r) => [r.strip, r.alignment]));
    const { lanes: compared, comb, bench } = pathed;
    this.run.reading = { found: { key, path, lanes, at, returns, compared, comb, bench }, doc, from, to };
    const checks = this.session.desk.pathChecks(pathed);
    this.board.heard = { ...this.board.heard, parallel: { doc, checks } };
  }

  /** Nobody looks any more: what is under way is called off. */
  leave(): void {
    this.end();
    this.run.leave();
  }

  private async solve(doing: string, extra: Partial<Extract<Question, { about: 'paths' }>>) {
    if (this.run.asking) return undefined;
    return this.run.ask((span) => this.question(doing, span, extra).answer);
  }

  /** Sets the first compressor of the return that is looked at so that it reaches a goal, in one step. */
  async reach(goal: PressGoal): Promise<void> {
    const { path } = this;
    const doc = this.session.settledDoc;
    const doing = {
      back: 'Looking for that release',
      deepest: 'Looking for that drive',
      within: 'Looking for that threshold',
    }[goal.goal];
    const pathed = await this.solve(doing, { goal });
    if (path === undefined || !pathed) return;
    const { solved } = pathed;
    if (!solved) return this.session.tell('Not set: no compressor of it goes by its own sound.');
    if (this.session.settledDoc !== doc)
      return this.session.tell('Not set: the session changed meanwhile. Try again.');
    if (solved.short) this.session.tell(solved.short);
    this.session.apply(setPress(path, solved, goal));
  }

  /** Raises the return that is looked at as far as a budget of peak allows, in one step. */
  async findBlend(budget_db: number): Promise<void> {
    const { path } = this;
    const doc = this.session.settledDoc;
    const pathed = await this.solve('Looking for the blend', { budget_db });
    const found = pathed?.found;
    if (path === undefined || !found) return;
    if (this.session.settledDoc !== doc)
      return this.session.tell('Not set: the session changed meanwhile. Try again.');
    if (found.fader_db === null)
      return this.session.tell(
        `Not set: even at -45 dB the peak rises by ${found.peak_db.toFixed(1)} dB. A larger budget is needed.`,
      );
    await this.keepBefore('Before a blend was found');
    this.session.apply({
      kind: 'set_strips',
      strips: [path],
      change: { what: 'fader_db', to: found.fader_db },
    });
    this.session.tell(`Blend ${found.fader_db.toFixed(1)} dB: ${signed(found.peak_db)} dB of peak.`);
  }

  /** Mends strips in one step, each as it was heard. */
  async mend(readings: { strip: number; alignment: Alignment }[]): Promise<void> {
    if (this.holds) await this.keepBefore('Before paths were mended');
    if (!this.holds)
      return this.session.tell('Not mended: the session changed since it was heard. Hear it again.');
    // What is mended is what stands there, not what was tried out.
    this.end();
    const edits = this.session.desk.mends(readings);
    const [first] = edits;
    if (first) this.session.apply(edits.length === 1 ? first : { kind: 'batch', edits });
  }

  /** With the return that is looked at and without it in turn, both as loud. */
  flipWithout(): void {
    const { heard, bench } = this;
    if (heard?.kind === 'without' && heard.strip === this.path)
      return this.hear({ ...heard, heard: heard.heard === 'with' ? 'without' : 'with' });
    if (!bench?.blend || !this.fresh) return;
    const offset = difference(bench.blend, 'lufs') ?? 0;
    this.hear({ kind: 'without', strip: bench.strip, heard: 'without', offset, down: Math.max(0, offset) });
  }

  /** As it would be, or as it is; in mono where wished. Nothing of it is kept. */
  hearMended(readings: PathReading[], mended: boolean, mono: boolean): void {
    if (!mended && !mono) return this.end();
    if (mended && !this.holds)
      return this.session.tell('Not heard: the session changed since. Hear it again first.');
    this.hear({ kind: 'mended', readings, mended, mono });
  }

  private hear(heard: Heard): void {
    const { session, player } = this;
    player.hearNow();
    if (session.trial) session.endTrial();
    const edits = this.editsOf(heard);
    const [first] = edits;
    if (first)
      session.startTrial(
        heard.kind === 'without' ? `Without ${session.nameOf(heard.strip)}` : 'Mended, to be heard',
        edits.length === 1 ? first : { kind: 'batch', edits },
        true,
      );
    this.heard = heard;
    const main_db = heard.kind === 'mended' ? 0 : (heard.heard === 'without' ? heard.offset : 0) - heard.down;
    player.passBy({ processors: [], main_db });
  }

  private editsOf(heard: Heard): Edit[] {
    if (heard.kind === 'without')
      return heard.heard === 'without'
        ? [{ kind: 'set_strips', strips: [heard.strip], change: { what: 'mute', to: true } }]
        : [];
    const main = this.session.doc.strips.find((s) => s.kind === 'main');
    const mends = heard.mended ? this.session.desk.mends(heard.readings) : [];
    const mono: Edit[] =
      heard.mono && main
        ? [{ kind: 'set_strips', strips: [main.id], change: { what: 'width_percent', to: 0 } }]
        : [];
    return [...mends, ...mono];
  }

  /** Hears the session as it is again. */
  end(): void {
    if (!this.heard) return;
    this.heard = undefined;
    this.session.endTrial();
    this.player.passBy({ processors: [], main_db: 0 });
  }

  /** Where what is heard was taken back from elsewhere, as undo does, it is over here too. */
  follow(): void {
    const { heard } = this;
    if (heard && this.editsOf(heard).length > 0 && !this.session.trial) this.end();
  }
}

function setPress(strip: number, solved: PressSolved, goal: PressGoal): Edit {
  const { processor, settings, input_db } = solved;
  return setProcessor(
    strip,
    processor,
    goal.goal === 'deepest' ? { what: 'input_db', to: input_db } : { what: 'settings', to: settings },
  );
}
