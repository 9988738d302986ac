/** What the board shows: rows, selection, stage, loop, and the names of things. */
import { keepHere } from '$lib/here';
import type { Check, Family, Pattern, Section, Session, Timeline } from '$lib/api/types';
import { byRank, chosenBy, keepSame, linesOf, rowsOf, type Row } from './rows';
import type { SessionState } from './session.svelte';
import type { Stage, StageFacts } from './stage';

/** One bar of the song and where its hits come from. */
export interface Bar {
  bar: number;
  section: Section;
  pattern: Pattern;
  patternBar: number;
}

/** A step of a lane that keys and fields act on. */
export interface Cursor {
  voice: number;
  pattern: number;
  /** Ticks from the start of the pattern. */
  at: number;
}

/** With more lanes than this a session opens with its families folded. */
const MANY_LANES = 24;

/** Heights of a row in pixels. */
const ROW_HEIGHTS = [35, 28, 26];
/** Pixels of a window that header, heads and a bench as it begins take. */
const FRAME_HEIGHT = 320;

/** Ticks of a sixteenth. */
export const SIXTEENTH = 240;

export class BoardState {
  stage = $state<Stage>('bring-in');
  /** Keys of selected rows, the last one chosen last. */
  selected = $state<string[]>([]);
  filter = $state('');
  loopFrom = $state(0);
  loopBars = $state(4);
  /** Of the bench in a stage, where a person changed it. */
  private benchHeights = $state<Partial<Record<Stage, number>>>({});
  /** What the bench of a stage is about, where a person chose it. */
  private tabs = $state<Partial<Record<Stage, string>>>({});
  /** Ticks of a step of the grid. */
  stepTicks = $state(SIXTEENTH);
  cursor = $state<Cursor>();
  /** Whether lanes stand under heads of their families, and which of those are open. */
  folded = $state(false);
  openFamilies = $state<Family[]>([]);
  /** Whether Route shows values in a table instead of ribbons. */
  routeTable = $state(false);
  /** The strip under the pointer in Route. */
  hovered = $state<number>();
  /** The processor that the bench of Shape is about. */
  processor = $state<number>();
  /** Keys that have a column in Duck before anything is ducked by them, by strips. */
  duckKeys = $state<number[]>([]);
  /** The ducker that the bench of Duck is about. */
  ducker = $state<number>();
  /** How rows of Duck stand where they do not stand as elsewhere: the lowest first, by strips; others come last. */
  ranks = $state.raw<Map<number, number>>();
  /** Of a strip's chain: the order before its last move, by processors. */
  otherOrders = $state<Record<number, number[]>>({});
  /** The processor that is being dragged along the rows. */
  heldProcessor = $state.raw<{ strip: number; processor: number }>();

  constructor(
    readonly session: SessionState,
    private readonly stages: readonly StageFacts[],
  ) {
    this.loopFullest();
    this.selected = this.rows[0] ? [this.rows[0].key] : [];
    this.folded = this.doc.voices.length > MANY_LANES;
    try {
      const kept = JSON.parse(localStorage.getItem(`board ${session.id}`) ?? '{}');
      if (stages.some((s) => s.id === kept.stage)) this.stage = kept.stage;
      for (const { id } of stages) this.show(id, kept.tabs?.[id]);
      if (kept.stepTicks > 0) this.stepTicks = kept.stepTicks;
      if (Number.isInteger(kept.loopFrom) && Number.isInteger(kept.loopBars))
        this.setLoop(kept.loopFrom, kept.loopBars);
      if (kept.benchHeights) this.benchHeights = kept.benchHeights;
      this.folded = kept.folded ?? this.folded;
      this.routeTable = kept.routeTable === true;
      const there = this.rows.map((r) => r.key);
      const rows = Array.isArray(kept.selected) ? kept.selected.filter((k: string) => there.includes(k)) : [];
      if (rows.length > 0) this.selected = rows;
      if (Number.isInteger(kept.processor)) this.processor = kept.processor;
    } catch {
      // What was kept cannot be read; the defaults stand.
    }
  }

  /** Loops the section that the most lanes play in: what a mixer works on first. */
  private loopFullest(): void {
    const doc = this.session.doc;
    const lanes = (pattern: number) => doc.parts.filter((p) => p.pattern === pattern).length;
    let [from, best] = [0, { from: 0, bars: 1, lanes: -1 }];
    for (const section of doc.sections) {
      const found = lanes(section.pattern);
      if (found > best.lanes) best = { from, bars: section.bars, lanes: found };
      from += section.bars;
    }
    this.setLoop(best.from, Math.min(8, best.bars));
  }

  /** Keeps how this person looks at this session, on this machine. */
  keep(): void {
    const { stage, tabs, stepTicks, loopFrom, loopBars, benchHeights, folded, routeTable } = this;
    const { selected, processor } = this;
    keepHere(`board ${this.session.id}`, {
      ...{ stage, tabs, stepTicks, loopFrom, loopBars, benchHeights, folded, routeTable },
      ...{ selected, processor },
    });
  }

  private facts(stage: Stage): StageFacts | undefined {
    return this.stages.find((s) => s.id === stage);
  }

  /** What the bench of a stage is about; nothing where it has one part alone. */
  tabOf(stage: Stage): string {
    const { tabs, begins } = this.facts(stage) ?? {};
    return this.tabs[stage] ?? begins ?? tabs?.[0]?.id ?? '';
  }

  /** Makes the bench of a stage be about a part of it; what it does not have stays away. */
  show(stage: Stage, tab: unknown): void {
    const found = this.facts(stage)?.tabs?.find((t) => t.id === tab);
    if (found) this.tabs[stage] = found.id;
  }

  get benchHeight(): number {
    return this.benchHeights[this.stage] ?? this.facts(this.stage)?.benchHeight ?? 226;
  }

  set benchHeight(height: number) {
    this.benchHeights[this.stage] = height;
  }

  get doc(): Session {
    return this.session.doc;
  }

  /** The rows as they were last, by key: one that did not change stays the same object. */
  private lastRows = new Map<string, Row>();

  rows = $derived.by((): Row[] => {
    const rows = keepSame(this.lastRows, rowsOf(this.doc));
    this.lastRows = new Map(rows.map((row) => [row.key, row]));
    return rows;
  });

  /** What stands on the board, line by line. */
  lines = $derived.by(() => {
    const ranks = this.stage === 'duck' ? this.ranks : undefined;
    const rows = ranks ? byRank(this.rows, ranks) : this.rows;
    return linesOf(rows, this.filter, this.folded && !ranks ? this.openFamilies : undefined);
  });

  shown = $derived(this.lines.flatMap((l) => (l.row ? [l.row] : [])));

  toggleFamily(family: Family): void {
    const rest = this.openFamilies.filter((f) => f !== family);
    this.openFamilies = rest.length < this.openFamilies.length ? rest : [...rest, family];
  }

  /** Things worth a look that were heard in a stage, of the session as it was then. */
  heard = $state.raw<Partial<Record<Stage, { doc: Session; checks: Check[] }>>>({});

  /** Things worth a look, as the core finds them, and those that were heard. */
  checks = $derived.by((): Check[] => {
    // The desk holds the same document; reading it here makes this follow its changes, once they are made.
    const doc = this.session.settledDoc;
    const heard = Object.values(this.heard).flatMap((of) => (of.doc === doc ? of.checks : []));
    return [...this.session.desk.checks(), ...heard].toSorted(
      (a, b) => Number(a.dismissed) - Number(b.dismissed),
    );
  });

  /** Frames by which sound leaves each strip late. */
  latency = $derived.by(() => {
    void this.session.settledDoc;
    return new Map(this.session.desk.latency().map((l) => [l.strip, l.leaves]));
  });

  /** Where only mono sound arrives: strips and processors. */
  private monoPlaces = $derived.by(() => {
    void this.session.settledDoc;
    const { strips, processors } = this.session.desk.mono();
    return { strips: new Set(strips), processors: new Set(processors) };
  });

  /** Why width does nothing at a strip, or in a processor of it, where that is so. */
  widthIdle(strip: number, processor?: number): string | undefined {
    const { strips, processors } = this.monoPlaces;
    const mono = processor === undefined ? strips.has(strip) : processors.has(processor);
    return mono ? 'Mono sound arrives here: width does nothing to it.' : undefined;
  }

  chosen = $derived(this.rows.filter((r) => this.selected.includes(r.key)));

  /** The strips of the chosen rows, each once. */
  strips = $derived([...new Set(this.chosen.map((r) => r.strip.id))]);

  /** The strips that a change on one is meant for: all that are chosen where it is among them, else itself. */
  together(strip: number): number[] {
    return this.strips.includes(strip) ? this.strips : [strip];
  }

  /** The row that the bench is about. */
  current = $derived(this.rows.find((r) => r.key === this.selected.at(-1)) ?? this.rows[0]);

  private sections = $derived(this.doc.sections);
  private patterns = $derived(this.doc.patterns);

  /** The song's time, as the core works it out. */
  time = $derived.by((): Timeline => {
    // The desk holds the same document; what its grid is made of is named here.
    void [this.session.header, this.sections, this.patterns];
    return this.session.desk.timeline();
  });

  /** Bars of the song in order. */
  bars = $derived.by((): Bar[] => {
    const sections = new Map(this.sections.map((s) => [s.id, s]));
    const patterns = new Map(this.patterns.map((p) => [p.id, p]));
    return this.time.bars.flatMap((place, bar) => {
      const [section, pattern] = [sections.get(place.section), patterns.get(place.pattern)];
      return section && pattern ? [{ bar, section, pattern, patternBar: place.pattern_bar }] : [];
    });
  });
  loopStart = $derived(Math.min(this.loopFrom, Math.max(0, this.bars.length - 1)));
  loop = $derived(this.bars.slice(this.loopStart, this.loopStart + this.loopBars));
  /** Pixels that the window is high. */
  windowHeight = $state(0);
  /** Rows are as high as lets all of them be seen, and no lower than can be read; the same in every stage. */
  rowHeight = $derived.by(() => {
    const room = this.windowHeight - FRAME_HEIGHT;
    return ROW_HEIGHTS.find((height) => this.lines.length * height <= room) ?? (ROW_HEIGHTS.at(-1) as number);
  });

  frameOf(bar: number): number {
    return Math.round(bar * this.time.bar_ticks * this.time.frames_per_tick);
  }

  /** Where the song stands, in bars with fractions. */
  positionBars = $derived.by(
    () => this.session.player.position / this.time.frames_per_tick / this.time.bar_ticks,
  );

  setLoop(from: number, bars: number): void {
    this.loopFrom = Math.max(0, Math.min(from, this.bars.length - 1));
    this.loopBars = Math.max(1, Math.min(bars, this.bars.length - this.loopFrom));
  }

  select(key: string, event?: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): void {
    const shown = this.shown.map((r) => r.key);
    this.selected = chosenBy(this.selected, shown, key, event);
  }

  /** Moves the selection by rows. */
  step(by: number): void {
    const at = this.shown.findIndex((r) => r.key === this.selected.at(-1));
    const next = this.shown[Math.max(0, Math.min(this.shown.length - 1, at + by))];
    if (next) this.selected = [next.key];
  }
}
