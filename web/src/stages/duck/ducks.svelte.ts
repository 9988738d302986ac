/** What duckers do over the loop, as it was heard last, and duckers that are made to fit. */
import { setProcessor, setSettings } from '$lib/state/edits';
import type {
  DuckKind,
  Ducker,
  DuckerWaves,
  Edit,
  Goal,
  Key,
  PairFigures,
  Processor,
  Room,
  Session,
  Settings,
  Solved,
  Strip,
} from '$lib/api/types';
import { BEAT, duckersOf, keyed, keyOf, keysInUse, sourcesOf } from '$lib/state/duckers';
import type { BoardState } from '$lib/state/board.svelte';
import type { Gauge, Span } from '$lib/state/gauge.svelte';
import { heardBars, spanOf } from '$lib/state/heard-span';
import { heardWith, sameHeard } from '$lib/state/heard-with';
import { Listening } from '$lib/state/kept.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { InOrder, type Asked } from './in-order.svelte';

const NOTHING = 'Not set: however it is set, it does nothing in the loop. Is its key silent there?';
const STALE = 'Not taken over: the session changed since it was looked for. Look for a way again.';
const UNSET = 'Left as it begins: its depth was not looked for to the end.';
const GONE = 'Not set: that ducker is gone.';
const RESTLESS = 'Not set: what it is heard with changed again and again. Try again.';
/** How often it is looked for anew where what is heard changes meanwhile. */
const ANEW = 4;
const NO_SUCH_VALUE = 'Not set: nothing in it moves by its key, so no value of it decides that.';
/** Of the loop, bars are heard that are over within so many seconds: what is kept of every piece grows with them. */
const MOST_S = 32;
/** Bars in which a way to make room is looked for, at most. */
const ROOM_BARS = 4;
/** What a new ducker takes away at its deepest, in dB. */
const START_DB = 6;
/** How far a new filter moves, in octaves. */
const START_OCT = 3;

/** What was heard of duckers. */
interface Heard {
  duckers: Map<number, { ducker: Ducker; waves: DuckerWaves | undefined }>;
  /** The one in focus, and what it does to what it ducks and its key together. */
  focus: number | undefined;
  pair: PairFigures | null;
}

/** A way to make room that was found, for a pair. */
export interface RoomFound {
  key: number;
  target: number;
  room: Room;
  /** What the session held that it was found in. */
  of: string;
}

/** What is heard of a session, to tell whether it is still the same. */
const contentsOf = ({ header, strips, voices, parts, sections, patterns }: Session): string =>
  JSON.stringify([header.tempo_bpm, header.metre, header.swing, strips, voices, parts, sections, patterns]);

const sentence = (words: string) => `${words[0]?.toUpperCase() ?? ''}${words.slice(1)}.`;

export class Ducks {
  /** The ducker that is looked at, of which more is heard. */
  focus = $state<number>();
  /** What was found last of a pair, until somebody decides. */
  room = $state.raw<RoomFound>();
  /** How a ducker was set as the kinds that it was before, until the page is left. */
  private readonly before = new Map<number, Map<DuckKind, Settings>>();
  private readonly heard: Listening<Heard>;
  private readonly order = new InOrder();

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
    private readonly gauge: Gauge,
    /** Keeps the session as it is, by a name, before something that changes much. */
    private readonly keepBefore: (name: string) => Promise<void> = () => Promise.resolve(),
  ) {
    const kinds = session.desk.kinds
      .filter((k) => k.reduces || k.sweeps)
      .map((k) => k.default.kind as string);
    this.reduces = (word) => kinds.includes(word);
    this.heard = new Listening(
      session,
      () => spanOf(board, this.bars),
      gauge,
      () => this.whole,
    );
  }

  /** Whether a kind takes gain away or moves a filter by the level. */
  readonly reduces: (word: string) => boolean;

  /** The strips of the keys that have a column. */
  keys = $derived.by(() =>
    keysInUse(
      this.session.doc,
      this.board.rows.map((r) => r.strip.id),
      this.board.duckKeys,
      this.reduces,
    ),
  );

  /** What of the song was heard last. */
  get heardSpan(): Span | undefined {
    return this.heard.reading;
  }

  /** Bars of the loop that are heard. */
  get bars(): number {
    return heardBars(this.board, this.session.doc.header.sample_rate, MOST_S);
  }

  /** Whether the last run was called off or failed, so that nothing hears again by itself. */
  get rests(): boolean {
    return this.heard.rests;
  }

  /** Hears again after one that was called off or failed. */
  again(): void {
    this.heard.wake();
    void this.listen();
  }

  /** Whether what was heard is of the session and the loop as they are. */
  get fresh(): boolean {
    return this.heard.fresh;
  }

  /** Whether the one that is looked at was heard as it is now. */
  get whole(): boolean {
    return this.fresh && (this.focus === undefined || this.heard.reading?.found.focus === this.focus);
  }

  /** What a ducker does to what it ducks and its key together, where it was looked at. */
  pairOf(processor: number): PairFigures | undefined {
    const found = this.heard.reading?.found;
    return found?.focus === processor ? (found.pair ?? undefined) : undefined;
  }

  /** What a ducker does, as it was heard last; it may have changed since, where `fresh` says no. */
  of(processor: number): Ducker | undefined {
    return this.heard.reading?.found.duckers.get(processor)?.ducker;
  }

  wavesOf(processor: number): DuckerWaves | undefined {
    return this.heard.reading?.found.duckers.get(processor)?.waves;
  }

  /** Hears every ducker again where something changed; what changes meanwhile is heard after that. */
  async listen(): Promise<void> {
    // What is being set is heard once it is.
    if (this.order.busy) return;
    const { focus } = this;
    const heard = await this.heard.listen((span) =>
      this.gauge.ask(
        'Hearing what is ducked',
        { about: 'duckers', focus: focus ?? null, goal: null, room: false },
        { span },
      ),
    );
    if (!heard) return;
    const { found: ducked, doc, from, to } = heard;
    // What was seen of others before is seen on, as long as nothing changed.
    const before = this.heard.reading;
    const same = before?.doc === doc && before.from === from && before.to === to;
    const duckers = ducked.duckers.map((ducker, at) => {
      const known = same ? before.found.duckers.get(ducker.processor)?.waves : undefined;
      const waves = ducked.waves[at];
      return [ducker.processor, { ducker, waves: waves?.before.length ? waves : (known ?? waves) }] as const;
    });
    this.heard.reading = { found: { duckers: new Map(duckers), focus, pair: ducked.pair }, doc, from, to };
    const checks = this.session.desk.duckChecks(ducked.duckers);
    this.board.heard = { ...this.board.heard, duck: { doc, checks } };
  }

  /** Whether a ducker is still being set. */
  sets(processor: number): boolean {
    return this.order.sets(processor);
  }

  /** Nobody looks any more: what is only looked at is called off; what is being set goes on. */
  leave(): void {
    if (!this.order.busy) this.heard.leave();
  }

  private processor(id: number): { strip: Strip; processor: Processor } | undefined {
    for (const strip of this.session.settledDoc.strips) {
      const processor = strip.chain.find((p) => p.id === id);
      if (processor) return { strip, processor };
    }
    return undefined;
  }

  /** What a ducker is heard with: what it ducks, and its keys. */
  private surroundings(id: number): unknown[] {
    const found = this.processor(id);
    if (!found) return [];
    return heardWith(this.session.settledDoc, [found.strip.id, ...sourcesOf(found.processor)]);
  }

  /**
   * Looks for something of a ducker, and begins anew where what it is heard with changes meanwhile; what else changes does not
   * matter. Nothing where it is gone, was called off, or never came to rest.
   */
  private async lookedFor<T>(
    asked: Asked,
    look: (id: number, from: Settings) => Promise<T>,
  ): Promise<T | undefined> {
    // It may have got another id meanwhile.
    const now = () => asked.ids[0] ?? 0;
    for (let tries = 0; tries < ANEW; tries += 1) {
      const from = this.processor(now())?.processor.settings;
      if (!from) return void this.session.tell(GONE);
      const before = this.surroundings(now());
      const found = await look(now(), from);
      if (found === undefined || sameHeard(before, this.surroundings(now()))) return found;
    }
    return void this.session.tell(RESTLESS);
  }

  /** Things got other ids, since somebody else made some meanwhile. */
  renamed(to: Map<number, number>): void {
    this.order.renamed(to);
    const { ducker } = this.board;
    if (ducker !== undefined) this.board.ducker = to.get(ducker) ?? ducker;
    const before = [...this.before].map(([id, kinds]) => [to.get(id) ?? id, kinds] as const);
    this.before.clear();
    for (const [id, kinds] of before) this.before.set(id, kinds);
  }

  /** Sets what was found, and leaves what was not part of it. */
  private set(processors: number[], to: Settings): boolean {
    const edits = processors.flatMap((id): Edit[] => {
      const strip = this.processor(id)?.strip.id;
      return strip === undefined ? [] : [setSettings(this.session.settledDoc, strip, id, to)];
    });
    const [first] = edits;
    return first !== undefined && this.session.apply(edits.length === 1 ? first : { kind: 'batch', edits });
  }

  /** Settings by which a ducker reaches a goal; null where its kind has none, nothing where it was called off or failed. */
  private async solve(processor: number, goal: Goal, edits: Edit[] = []): Promise<Solved | null | undefined> {
    const doing = {
      depth: () => 'Looking for that depth',
      recovery: () => 'Looking for the longest release',
      sum: () => 'Looking for the least depth',
    }[goal.goal]();
    const ducked = await this.heard.ask((span) =>
      this.gauge.ask(doing, { about: 'duckers', focus: processor, goal, room: false }, { span, edits }),
    );
    return ducked?.solved;
  }

  /** Reaches a goal with a ducker that is there, in one step, and says so where it gets only near. */
  reach(processor: number, goal: Goal): Promise<void> {
    return this.order.ask([processor], async (asked) => {
      const solved = await this.lookedFor(asked, (id) => this.solve(id, goal));
      if (solved === null) this.session.tell(NO_SUCH_VALUE);
      if (!solved) return;
      if (goal.goal === 'depth' && goal.db > 0 && solved.figures.depth_db === 0)
        return this.session.tell(NOTHING);
      if (solved.short) this.session.tell(sentence(solved.short));
      if (goal.goal === 'recovery' && solved.short) return;
      const { sum } = solved;
      if (sum && !solved.short)
        this.session.tell(
          `Both together: ${sum.without.toFixed(1)} to ${sum.with.toFixed(1)} dBFS, the key alone ${sum.key.toFixed(1)}.`,
        );
      this.set(asked.ids, solved.settings);
    });
  }

  /**
   * New duckers of some strips by one key of one source or more. They are there at once; then they get as deep as a start is,
   * and back in time, where the key sounds in the loop.
   *
   * Resolves with the first of them once it is set; with nothing where it was refused.
   */
  async add(strips: number[], ...sources: number[]): Promise<number | undefined> {
    if (sources.includes(BEAT)) return this.put(strips, 'beat_shape', null);
    const kind = this.session.desk.kinds.find((k) => k.default.kind === 'compressor');
    // A press that comes twice makes one.
    const open = strips.filter((id) => {
      const strip = this.session.doc.strips.find((s) => s.id === id);
      return !strip || sources.some((key) => duckersOf(strip, key, this.reduces).length === 0);
    });
    if (!kind || open.length === 0) return undefined;
    const fresh = this.made({
      kind: 'add_processor',
      strips: open,
      settings: kind.default,
      key: keyOf(this.session.desk, ...sources),
      at: null,
    });
    if (fresh.length === 0) return undefined;
    return this.order.ask(fresh, async (asked) => {
      const settings = await this.lookedFor(asked, (id) => this.fitting(id));
      const [id] = asked.ids;
      if (settings) this.set(asked.ids, settings);
      else if (settings === undefined && id !== undefined && this.processor(id)) this.session.tell(UNSET);
      return id;
    });
  }

  /** The ducker that was copied last, to be put elsewhere. */
  held = $state<number>();
  /** Rows over which a ducker is being drawn out, by strips, and the column that it stands in. */
  drawn = $state.raw<{ processor: number; source: number; strips: number[] }>();

  /**
   * Copies a ducker to other rows, all of them in one step; those that its key ducks already keep what they have.
   *
   * * `source` – the key of the copies, where that is another.
   */
  copy(processor: number, strips: number[], source?: number): void {
    const { doc } = this.session;
    const from = doc.strips.find((s) => s.chain.some((p) => p.id === processor));
    const ducker = from?.chain.find((p) => p.id === processor);
    if (!from || !ducker) return this.session.tell('Not copied: that ducker is gone.');
    const sources = source === undefined ? sourcesOf(ducker) : [source];
    const beat = sources.includes(BEAT);
    if (beat && ducker.settings.kind !== 'beat_shape')
      return this.session.tell('Not copied: only a shape goes by the beat.');
    const to = strips.filter((id) => {
      const strip = doc.strips.find((s) => s.id === id);
      const takes = strip && strip.kind !== 'trigger' && !sources.includes(id);
      return takes && sources.every((key) => duckersOf(strip, key, this.reduces).length === 0);
    });
    if (to.length === 0)
      return this.session.tell('Not copied: what is chosen is ducked so already, or is no target.');
    const same = sources.every((key) => sourcesOf(ducker).includes(key));
    const { settings, key } = ducker;
    const edit: Edit & { kind: 'add_processor' | 'copy_chain' } = same
      ? { kind: 'copy_chain', from: from.id, processors: [processor], to, replace: false }
      : {
          kind: 'add_processor',
          strips: to,
          settings,
          key: beat ? null : { ...(key ?? keyOf(this.session.desk)), ...keyed(sources) },
          at: null,
        };
    this.show(edit);
  }

  /** A plain one of a kind on some strips. */
  private put(strips: number[], word: Settings['kind'], key: Key | null): number | undefined {
    const kind = this.session.desk.kinds.find((k) => k.default.kind === word);
    if (!kind || strips.length === 0) return undefined;
    return this.show({ kind: 'add_processor', strips, settings: kind.default, key, at: null });
  }

  /** Makes what an edit makes, and looks at the first of it. */
  private show(edit: Edit & { kind: 'add_processor' | 'copy_chain' }): number | undefined {
    return this.made(edit)[0];
  }

  /** The same, with all that came of it. */
  private made(edit: Edit & { kind: 'add_processor' | 'copy_chain' }): number[] {
    const strips = edit.kind === 'copy_chain' ? edit.to : edit.strips;
    const known = this.processors();
    if (!this.session.apply(edit)) return [];
    const fresh = this.session.doc.strips
      .filter((s) => strips.includes(s.id))
      .flatMap((s) => s.chain.filter((p) => !known.has(p.id)).map((p) => p.id));
    this.board.ducker = fresh[0];
    return fresh;
  }

  private processors(): Set<number> {
    return new Set(this.session.doc.strips.flatMap((s) => s.chain.map((p) => p.id)));
  }

  /** The settings of a start that suit what is heard; null where its key is silent, nothing where it was called off. */
  private async fitting(id: number): Promise<Settings | null | undefined> {
    const strip = this.processor(id)?.strip.id ?? 0;
    const deep = await this.solve(id, { goal: 'depth', db: START_DB });
    if (!deep) return deep;
    if (deep.figures.depth_db === 0) return null;
    if (deep.figures.late === 0 && !deep.figures.stuck) return deep.settings;
    const set = setSettings(this.session.settledDoc, strip, id, deep.settings);
    const back = await this.solve(id, { goal: 'recovery' }, [set]);
    if (back === undefined) return undefined;
    return back && !back.short ? back.settings : deep.settings;
  }

  /** A ducker becomes another kind, in one step: as deep as it was, with its key and its times where they mean the same. */
  become(id: number, to: DuckKind): Promise<void> {
    return this.order.ask([id], async (asked) => {
      const next = await this.lookedFor(asked, (now, from) => this.turned(now, from, to));
      const [now = id] = asked.ids;
      const strip = this.processor(now)?.strip.id;
      if (next && strip !== undefined)
        this.session.apply(setProcessor(strip, now, { what: 'settings', to: next }));
    });
  }

  /** Settings of another kind that does as much as a ducker does now; null where it is of that kind. */
  private async turned(id: number, from: Settings, to: DuckKind): Promise<Settings | null | undefined> {
    const { desk } = this.session;
    const was = desk.duckKind(from);
    if (!was || was === to) return null;
    const kept = this.before.get(id) ?? new Map<DuckKind, Settings>();
    kept.set(was, from);
    this.before.set(id, kept);
    const known = kept.get(to);
    if (known) return desk.duckBack(known, from);
    // Octaves say nothing of decibels.
    const sweeps = [was, to].includes('filter');
    const depth = (sweeps ? undefined : this.of(id)?.figures.depth_db) ?? START_DB;
    const shared = this.pairOf(id)?.shared_hz ?? null;
    const next = desk.duckTurned(from, to, depth, shared);
    const strip = this.processor(id)?.strip.id ?? 0;
    const db = to === 'filter' ? 12 * START_OCT : Math.max(1, Math.round(10 * depth) / 10);
    const set = setProcessor(strip, id, { what: 'settings', to: next });
    const solved = await this.solve(id, { goal: 'depth', db }, [set]);
    // Where no value decides how deep it goes, or nothing was heard, it begins as such a kind begins.
    return solved?.settings ?? next;
  }

  /** Looks for a way in which one strip makes room for another; nothing is changed. */
  async lookForRoom(key: number, target: number): Promise<void> {
    const kind = this.session.desk.kinds.find((k) => k.default.kind === 'compressor');
    if (kind?.default.kind !== 'compressor' || this.heard.asking) return;
    // It takes nothing away: all that is wanted is where it would stand.
    const settings: Settings = { ...kind.default, ratio: 1 };
    const edit: Edit = {
      kind: 'add_processor',
      strips: [target],
      settings,
      key: keyOf(this.session.desk, key),
      at: null,
    };
    const [refusal] = this.session.fit([edit]);
    if (refusal !== undefined) return void this.session.apply(edit);
    this.room = undefined;
    const span = spanOf(this.board, Math.min(this.bars, ROOM_BARS));
    const found = await this.heard.ask(() =>
      this.gauge.ask(
        'Looking for what they share',
        { about: 'duckers', focus: this.session.settledDoc.next_id, goal: null, room: true },
        { span, edits: [edit] },
      ),
    );
    if (found?.room) this.room = { key, target, room: found.room, of: contentsOf(this.session.settledDoc) };
  }

  /** The edit that takes a proposal over. */
  roomEdit({ key, target, room }: RoomFound): (Edit & { kind: 'add_processor' }) | undefined {
    const { proposal } = room;
    if (!proposal) return undefined;
    const { settings } = proposal;
    return {
      kind: 'add_processor',
      strips: [target],
      settings,
      key: keyOf(this.session.desk, key),
      at: null,
    };
  }

  /** Takes the proposal over. */
  async takeRoom(): Promise<void> {
    const found = this.room;
    const edit = found && this.roomEdit(found);
    this.room = undefined;
    if (!edit || !found) return;
    await this.keepBefore('Before room was made');
    if (found.of !== contentsOf(this.session.settledDoc)) return this.session.tell(STALE);
    this.show(edit);
  }

  /** Takes over what would do without ducking. */
  async takeFirst(): Promise<void> {
    const found = this.room;
    const first = found?.room.first;
    const kind = this.session.desk.kinds.find((k) => k.default.kind === 'stereo_image');
    if (!found || !first || kind?.default.kind !== 'stereo_image') return;
    this.room = undefined;
    await this.keepBefore('Before room was made');
    if (found.of !== contentsOf(this.session.settledDoc)) return this.session.tell(STALE);
    const settings: Settings =
      first.way === 'delay'
        ? { ...kind.default, delay_frames: first.frames }
        : { ...kind.default, polarity: 'both' };
    this.session.apply({ kind: 'add_processor', strips: [found.target], settings, key: null, at: null });
  }
}
