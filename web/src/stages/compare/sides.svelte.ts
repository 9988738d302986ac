/** What the mix is held against: up to two other sides, heard in turn at one loudness. */
import { api } from '$lib/api/client';
import type { Question, Reference, RenderLine, Session, SideFigures, SnapshotLine } from '$lib/api/types';
import { keepHere, keptHere } from '$lib/here';
import type { Levels, RecordingWay } from '$lib/audio/messages';
import type { Player, SideSound } from '$lib/audio/player.svelte';
import { Attempt } from '$lib/state/attempt.svelte';
import type { BoardState } from '$lib/state/board.svelte';
import type { Asking, Gauge } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { switchesOf, withSwitches } from './switches';

/** What stands on a side. */
export type SideWhat =
  | { kind: 'now' }
  | { kind: 'without' }
  | { kind: 'snapshot'; id: string; document: Session }
  | { kind: 'render'; id: string; way: RecordingWay; pcm: Float32Array<ArrayBuffer> }
  | { kind: 'reference'; id: number };

export interface Side {
  /** The same for as long as it stands for the same. */
  key: string;
  name: string;
  what: SideWhat;
}

/** A side as the browser keeps it. */
interface KeptSide extends Pick<Side, 'key' | 'name'> {
  kind: SideWhat['kind'];
}

/** What was measured of a side, and of what. */
interface Heard {
  figures: SideFigures;
  /** Of now: the document as it was. Of a reference: how it was played. */
  of: unknown;
  from: number;
  to: number;
}

export const NOW: Side = { key: 'now', name: 'Now', what: { kind: 'now' } };
export const WITHOUT: Side = { key: 'without', name: 'Without processors', what: { kind: 'without' } };
/** Sides beside now. */
const OTHERS = 2;
/** Runs of one measuring at most. */
const RUNS = 9;
export const LETTERS = ['A', 'B', 'C'] as const;

export class Sides {
  /** Beside now. */
  others = $state.raw<Side[]>([]);
  /** Where each stands in the player, from 1, as long as it is a side, whatever leaves before it. */
  private readonly places = new Map<string, number>();
  private heard = $state.raw(new Map<string, Heard>());
  private readonly asking = new Attempt();
  /** Whether a round without names is on: then nothing of a side may show. */
  hidden = $state(false);

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
    private readonly player: Player,
    private readonly gauge: Gauge,
  ) {}

  /** Why the last thing that was asked of the server failed, for people. */
  get problem(): string {
    return this.asking.problem;
  }

  /** All of them, now first. */
  all = $derived([NOW, ...this.others]);

  private placeOf(side: Side): number {
    return this.places.get(side.key) ?? 0;
  }

  /** The one that is heard, from 0. */
  get at(): number {
    const { heard } = this.player;
    return heard === 0 ? 0 : this.others.findIndex((side) => this.placeOf(side) === heard) + 1;
  }

  get now(): Side {
    return this.all[this.at] ?? NOW;
  }

  /** "B Before the clippers"; "Now" where nothing is held against it. */
  get name(): string {
    return this.others.length === 0 ? NOW.name : `${LETTERS[this.at]} ${this.now.name}`;
  }

  private known: { parts: unknown[]; basis: object } | undefined;

  /** The same as long as nothing changes that now sounds by; references, for one, do not. */
  sounding(): object {
    const { header, voices, strips, patterns, parts, sections } = this.session.settledDoc;
    const all = [header, voices, strips, patterns, parts, sections];
    if (!this.known || all.some((part, n) => part !== this.known?.parts[n]))
      this.known = { parts: all, basis: {} };
    return this.known.basis;
  }

  /** What a side's figures are of: other figures are of something else. */
  private basis(side: Side): unknown {
    if (side.what.kind === 'now' || side.what.kind === 'without') return this.sounding();
    if (side.what.kind === 'snapshot')
      return this.isPlain(side) ? side.key : `${side.key} ${switchesOf(this.session.settledDoc)}`;
    const reference = side.what.kind === 'reference' ? this.referenceOf(side.what.id) : undefined;
    return reference ? JSON.stringify(this.wayOf(reference)) : side.key;
  }

  /** A snapshot as it sounds as a side: what is soloed and muted now is so there too. By itself it sounds as it was taken. */
  private documentOf({ key, what }: Side): Session | undefined {
    if (what.kind !== 'snapshot') return undefined;
    return this.has(key) ? withSwitches(what.document, this.session.settledDoc) : what.document;
  }

  /** Whether mute and solo of now change nothing about a side. */
  isPlain(side: Side): boolean {
    return side.what.kind !== 'snapshot' || this.documentOf(side) === side.what.document;
  }

  /** Whether a side is the whole mix while only a part of now is heard. */
  isWhole({ what }: Side): boolean {
    return (
      (what.kind === 'render' || what.kind === 'reference') && this.session.doc.strips.some((s) => s.solo)
    );
  }

  figuresOf(side: Side): SideFigures | undefined {
    return this.heard.get(side.key)?.figures;
  }

  /** Whether a side was measured as it is, over the loop as it is. */
  isFresh(side: Side): boolean {
    const known = this.heard.get(side.key);
    const { from, to } = this.gauge.span;
    return known?.of === this.basis(side) && known?.from === from && known.to === to;
  }

  /** Whether all sides were measured. */
  measured = $derived.by(() => this.all.every((side) => this.heard.has(side.key)));
  /** Whether something changed since. */
  get stale(): boolean {
    return this.measured && this.all.some((side) => !this.isFresh(side));
  }

  /** By how much each is moved in dB, so that all are as loud as the softest; nothing until all were measured. */
  offsets = $derived.by((): number[] => {
    if (this.others.length === 0 || !this.measured) return this.all.map(() => 0);
    return this.session.desk.offsets(this.all.map((side) => this.figuresOf(side)?.lufs ?? null));
  });

  private levels(): Levels {
    const levels: Levels = [0, 0, 0];
    for (const [n, side] of this.all.entries()) levels[this.placeOf(side)] = this.offsets[n] ?? 0;
    return levels;
  }

  /** Whether something is being measured. */
  private get busy(): boolean {
    return this.gauge.part !== undefined;
  }

  /** The session on the first side that is a state of it. */
  get snapshot(): { id: string; name: string; document: Session } | undefined {
    for (const { what, name } of this.others)
      if (what.kind === 'snapshot') return { id: what.id, name, document: what.document };
    return undefined;
  }

  has(key: string): boolean {
    return this.others.some((side) => side.key === key);
  }

  private soundOf(side: Side): SideSound | undefined {
    const { name, what } = side;
    if (what.kind === 'without') return { kind: 'session', what: 'without' };
    const document = this.documentOf(side);
    if (document) return { kind: 'session', what: { document } };
    if (what.kind === 'render') {
      const { id, way, pcm } = what;
      const give = () => Promise.resolve(pcm.slice().buffer);
      return { kind: 'recording', id: `render ${id}`, name, channels: 2, pcm: give, way };
    }
    const reference = what.kind === 'reference' ? this.referenceOf(what.id) : undefined;
    const asset = reference && this.session.doc.assets.find((a) => a.id === reference.asset);
    if (!reference || !asset) return undefined;
    const { id, channels } = asset;
    return { kind: 'recording', id, name, channels, pcm: () => api.asset(id), way: this.wayOf(reference) };
  }

  referenceOf(id: number): Reference | undefined {
    return this.session.doc.references.find((r) => r.id === id);
  }

  private wayOf({ follows, start_bar, from_frame, to_frame }: Reference): RecordingWay {
    return { follows, start: this.board.frameOf(start_bar), from: from_frame, to: to_frame };
  }

  /** Puts a side beside now; where there is no place, instead of the last. */
  add(side: Side): void {
    if (this.has(side.key)) return;
    const last = this.others.at(OTHERS - 1);
    if (last) this.remove(last.key);
    const taken = this.others.map((other) => this.placeOf(other));
    const place = taken.includes(1) ? OTHERS : 1;
    this.places.set(side.key, place);
    this.others = [...this.others, side];
    this.player.put(place, this.soundOf(side));
    this.level();
    this.remember();
    if (!this.restoring) void this.measure();
  }

  without(): void {
    this.add(WITHOUT);
  }

  addSnapshot(line: Pick<SnapshotLine, 'id' | 'name'>): Promise<boolean> {
    return this.asking.run(async () => {
      const { id, name } = line;
      if (this.has(id)) return;
      const document = await api.snapshot(this.session.id, id);
      this.add({ key: id, name, what: { kind: 'snapshot', id, document } });
    });
  }

  addReference({ id, name }: Reference): void {
    this.add({ key: `reference ${id}`, name, what: { kind: 'reference', id } });
  }

  /** The place of main among the files of a render; nothing where it is none of them. */
  static mainOf({ report }: RenderLine): number | undefined {
    const at = report?.stems.findIndex((stem) => stem.kind === 'main') ?? -1;
    return at < 0 ? undefined : at;
  }

  /** A finished render, at its place in the song, as its file says. */
  addRender(render: RenderLine): Promise<boolean> {
    return this.asking.run(async () => {
      const position = Sides.mainOf(render);
      if (position === undefined || !render.report || this.has(render.id)) return;
      const file = await api.renderFile(render.id, position);
      const pcm = await decoded(file, this.session.header.sample_rate);
      const { from, frames } = render.report;
      const way = { follows: true, start: from, from: 0, to: frames };
      const what = { kind: 'render', id: render.id, way, pcm } as const;
      this.add({ key: render.id, name: `Render ${render.version}`, what });
    });
  }

  /** Brings a recording in as a reference and holds the mix against it. */
  bringReference(file: File): Promise<boolean> {
    return this.asking.run(async () => {
      const came = await api.bringIn(this.session.id, file, file.name);
      if (came.kind === 'midi')
        throw new Error(`${file.name} holds notes; a reference is a recording, such as WAV or MP3.`);
      const { name, asset } = came;
      const before = new Set(this.session.doc.references.map((r) => r.id));
      if (!this.session.apply({ kind: 'add_reference', name, asset })) return;
      const made = this.session.doc.references.find((r) => !before.has(r.id));
      if (made) this.addReference(made);
    });
  }

  /** Takes a side away; where it is heard, now is heard. */
  remove(key: string): void {
    const gone = this.others.find((side) => side.key === key);
    if (!gone) return;
    const place = this.placeOf(gone);
    this.others = this.others.filter((side) => side !== gone);
    this.places.delete(key);
    this.player.hear(this.player.heard === place ? 0 : this.player.heard, this.levels());
    this.player.put(place, undefined);
    this.remember();
  }

  /** Nothing is held against now any more. */
  end(): void {
    for (const side of this.others) this.remove(side.key);
    this.hidden = false;
  }

  /** Hears a side, once it stands and all were measured; what changed since is measured again meanwhile. */
  async hear(at: number): Promise<void> {
    if (at > this.others.length) return;
    const turn = ++this.turn;
    if (this.others.length > 0 && !this.measured && !(await this.measure())) return;
    const side = this.all[at];
    if (!side || !(await this.player.standing(this.placeOf(side)))) return;
    if (!this.all.some((other) => other.key === side.key)) return;
    // What was asked last is what is heard.
    if (turn !== this.turn) return;
    this.player.listen(0, undefined);
    this.player.hear(this.placeOf(side), this.levels());
    if (this.stale && !this.busy) void this.measure();
  }

  private turn = 0;

  /** The next side; where nothing is held against now, without processors. */
  async next(by: 1 | -1 = 1): Promise<void> {
    if (this.others.length === 0) {
      this.without();
      return this.hear(1);
    }
    return this.hear((this.at + by + this.all.length) % this.all.length);
  }

  private measuring: Promise<boolean> | undefined;

  /** Measures what was not measured as it is, one side after the other. False where that did not come to its end. */
  measure(): Promise<boolean> {
    this.measuring ??= this.measureAll().finally(() => (this.measuring = undefined));
    return this.measuring;
  }

  private async measureAll(): Promise<boolean> {
    // What changes while it is measured is measured again, up to a bound.
    for (let runs = 0; runs < RUNS; runs += 1) {
      const side = this.all.find((s) => !this.isFresh(s));
      if (!side) break;
      if (!(await this.measureOne(side))) return false;
    }
    this.level();
    return this.measured;
  }

  private async measureOne(side: Side): Promise<boolean> {
    const asked = this.askedOf(side);
    if (!asked) return false;
    const [of, { from, to }] = [this.basis(side), this.gauge.span];
    const doing = `Measuring ${this.hidden ? 'the sides' : side.name}`;
    const figures = await this.gauge.ask(doing, ...asked);
    if (!figures) return false;
    this.heard = new Map(this.heard).set(side.key, { figures, of, from, to });
    return true;
  }

  private askedOf(side: Side): [Extract<Question, { about: 'side' | 'side_recording' }>, Asking] | undefined {
    const { what } = side;
    if (what.kind === 'now' || what.kind === 'without')
      return [{ about: 'side', without: what.kind === 'without' }, {}];
    const session = this.documentOf(side);
    if (session) return [{ about: 'side', without: false }, { session }];
    if (what.kind === 'render') {
      const recording = { asset: `render ${what.id}`, channels: 2, pcm: what.pcm.buffer };
      return [{ about: 'side_recording', asset: recording.asset, way: what.way }, { recording }];
    }
    const reference = what.kind === 'reference' ? this.referenceOf(what.id) : undefined;
    if (!reference) return undefined;
    return [{ about: 'side_recording', asset: reference.asset, way: this.wayOf(reference) }, {}];
  }

  /** How a snapshot sounds, measured like any side, unless something else is being measured; nothing where that did not come
   *  to its end. */
  async figuresOfSnapshot(id: string, name: string, document: Session): Promise<SideFigures | undefined> {
    await this.measuring;
    const side: Side = { key: id, name, what: { kind: 'snapshot', id, document } };
    // As a side it may sound otherwise than it was taken.
    if (!this.isPlain(side)) return undefined;
    if (!this.isFresh(side) && (this.busy || !(await this.measureOne(side)))) return undefined;
    return this.figuresOf(side);
  }

  /** A snapshot that was just taken sounds like now: what is known of one is known of both. */
  sameAsNow(id: string): void {
    const [now, then] = [this.heard.get(NOW.key), this.heard.get(id)];
    // What is soloed now is so in the snapshot too.
    if (now && this.isFresh(NOW)) this.heard = new Map(this.heard).set(id, { ...now, of: id });
    else if (then) this.heard = new Map(this.heard).set(NOW.key, { ...then, of: this.sounding() });
  }

  /** Plays the sides at what was measured. */
  private level(): void {
    if (this.others.length > 0) this.player.hear(this.player.heard, this.levels());
  }

  /** References that are played otherwise now, or are called otherwise, or are gone; what is muted and soloed otherwise. */
  follow(): void {
    this.followSwitches();
    for (const side of this.others) {
      if (side.what.kind !== 'reference') continue;
      const reference = this.referenceOf(side.what.id);
      if (!reference) return this.remove(side.key);
      const way = JSON.stringify(this.wayOf(reference));
      if (this.ways.get(side.key) === undefined) this.ways.set(side.key, way);
      if (reference.name !== side.name)
        this.others = this.others.map((s) => (s.key === side.key ? { ...s, name: reference.name } : s));
      if (this.ways.get(side.key) === way) continue;
      this.ways.set(side.key, way);
      this.player.put(this.placeOf(side), this.soundOf(side));
      void this.measure();
    }
  }
  private readonly ways = new Map<string, string>();

  /** Rows are muted and soloed otherwise: sides that are a state of the session follow. */
  private followSwitches(): void {
    const switches = switchesOf(this.session.settledDoc);
    if (switches === this.switches) return;
    const first = this.switches === undefined;
    this.switches = switches;
    const states = this.others.filter((side) => side.what.kind === 'snapshot');
    if (first || states.length === 0) return;
    for (const side of states) this.player.put(this.placeOf(side), this.soundOf(side));
    if (!this.busy) void this.measure();
  }
  private switches: string | undefined;

  /** The session that they are of. */
  get of(): string {
    return this.session.id;
  }

  /** Where the browser keeps which sides there are. */
  private get place(): string {
    return `sides ${this.session.id}`;
  }

  private remember(): void {
    const kept = this.others.map(({ key, name, what }): KeptSide => ({ key, name, kind: what.kind }));
    keepHere(this.place, kept.length > 0 ? kept : undefined);
  }

  /** Sides as they were before the page was opened anew; what is gone is left out. */
  async restore(): Promise<void> {
    // They are measured once somebody wants to hear one.
    this.restoring = true;
    for (const { key, name, kind } of keptHere<KeptSide[]>(this.place) ?? []) {
      const reference = this.session.doc.references.find((r) => key === `reference ${r.id}`);
      if (kind === 'without') this.without();
      else if (kind === 'snapshot') await this.addSnapshot({ id: key, name });
      else if (kind === 'render') {
        const line = (await api.renders(this.session.id).catch(() => [])).find((r) => r.id === key);
        if (line) await this.addRender(line);
      } else if (reference) this.addReference(reference);
    }
    this.restoring = false;
  }
  private restoring = false;

  /** A side that was renamed elsewhere. */
  renamed(key: string, name: string): void {
    this.others = this.others.map((side) => (side.key === key ? { ...side, name } : side));
  }
}

/** A file's samples as two interleaved channels at a rate in Hz, by the browser's own reader. */
async function decoded(file: ArrayBuffer, rate: number): Promise<Float32Array<ArrayBuffer>> {
  const sound = await new OfflineAudioContext(2, 1, rate).decodeAudioData(file);
  const [left, right] = [sound.getChannelData(0), sound.getChannelData(sound.numberOfChannels - 1)];
  const samples = new Float32Array(2 * sound.length);
  for (let n = 0; n < sound.length; n += 1) {
    samples[2 * n] = left[n] ?? 0;
    samples[2 * n + 1] = right[n] ?? 0;
  }
  return samples;
}
