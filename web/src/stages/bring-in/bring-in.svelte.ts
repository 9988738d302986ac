/** Files on their way into the session: listed, read one by one, brought in together, each standing alone. */
import { keepHere, keptHere } from '$lib/here';
import { api, ApiError } from '$lib/api/client';
import { LIMITS } from '$lib/api/types/limits';
import type { Destination, Edit, NotesLane, Take, Voice } from '$lib/api/types';
import { chosenAgain, chosenLanes, noteLines, notesOptions } from './incoming/notes';
import type { NoteLine, NotesOption } from './incoming/notes';
import { headOf, playedBytes } from './incoming/head';
import { asOne, choose, incoming, inOrder, placed } from './incoming/placing';
import type { Brought, Places } from './incoming/placing';
import { commonTrim, keepsTrim, trimSentence } from './incoming/trim';
import { listed, type Entry, type Item, type Listed } from './incoming/unpack';
import { Pauses } from '$lib/sync/pauses';
import type { BoardState } from '$lib/state/board.svelte';
import type { SessionState } from '$lib/state/session.svelte';

/** Files sent at a time. */
const UPLOADS = 4;
/** Where the browser keeps whether drops are trimmed. */
const TRIMS = 'trim what comes in';
/** From so many bytes on, it is asked whether there is room before they are sent. */
const ASKED_BYTES = 8 * 2 ** 20;
/** Names told of what was passed over; more are counted. */
const NAMES = 5;

export interface Refusal {
  file: string;
  reason: string;
}

const MIB = 2 ** 20;

/** Sounds and notes that wait for a person to say where they go. */
export interface Waiting {
  brought: Brought[];
  sounds: { of: Brought; name: string }[];
  /** Where each of them goes. */
  to: Destination[];
  /** As the core proposed. */
  proposed: Destination[];
  /** The notes of takes, and the lanes that they can go to. */
  notes: NoteLine[];
  options: NotesOption[];
}

const placesOf = (sounds: { of: Brought }[], to: Destination[]): Places =>
  new Map(sounds.flatMap(({ of }, at) => (to[at] ? [[of, to[at]] as const] : [])));

export class BringIn {
  total = $state(0);
  done = $state(0);
  running = $state(false);
  /** Whether files wait for the network. */
  waiting = $state(false);
  refused = $state<Refusal[]>([]);
  /** What was taken otherwise, for people. */
  remarks = $state<string[]>([]);
  /** Where lanes wait for sounds or can take notes, nothing is brought in before a person saw what goes where. */
  asking = $state.raw<Waiting>();
  /** Whether what comes in together is trimmed to the session's target; kept in this browser. */
  trims = $state(keptHere<string>(TRIMS) !== 'off');
  private stopper: AbortController | undefined;
  /** Bytes that the session's audio may still grow by. */
  private room = 0;

  constructor(
    private readonly session: SessionState,
    private readonly board: BoardState,
  ) {}

  setTrims(on: boolean): void {
    this.trims = on;
    keepHere(TRIMS, on ? 'on' : 'off');
  }

  cancel = (): void => this.stopper?.abort();

  /**
   * * `onto` – the lane that a single file was dropped on.
   */
  async take(entries: Entry[], onto?: number): Promise<void> {
    if (this.running || this.asking || entries.length === 0) return;
    const stopper = new AbortController();
    this.stopper = stopper;
    [this.running, this.total, this.done, this.refused, this.remarks] = [true, entries.length, 0, [], []];
    const held = this.session.doc.assets.reduce((sum, a) => sum + a.frames * a.channels * 4, 0);
    this.room = LIMITS.session_audio_bytes - held;
    const list = await listed(entries);
    list.items = inOrder(list.items);
    this.total = list.items.length;
    this.refused = list.refused;
    this.tellSkipped(list);
    const results: (Brought | undefined)[] = list.items.map(() => undefined);
    let next = 0;
    const work = async () => {
      while (next < list.items.length && !stopper.signal.aborted) {
        const at = next;
        next += 1;
        results[at] = await this.bring(list.items[at] as Item, stopper.signal);
        this.done += 1;
      }
    };
    await Promise.all(Array.from({ length: UPLOADS }, work));
    await list.close().catch(() => undefined);
    [this.running, this.waiting] = [false, false];
    if (stopper.signal.aborted) return;
    const read = results.filter((r) => r !== undefined);
    const [only] = incoming(read);
    if (onto !== undefined && read.length === 1 && only)
      return this.apply(read, [only], [{ voice: onto, output: null }], []);
    // Without them sounds get lanes of their own.
    if (incoming(read).length > 0) await this.findStandIns().catch(() => undefined);
    const brought = this.fitting(read);
    const sounds = incoming(brought);
    const to = this.proposed(sounds);
    const waiting = this.withNotes({ brought, sounds, to, proposed: to, notes: [] });
    // A new lane is always there to be chosen.
    const choice =
      to.some((d) => d.voice !== null) || (waiting.notes.length > 0 && waiting.options.length > 1);
    if (choice) this.asking = waiting;
    else this.apply(brought, sounds, to, []);
  }

  private proposed(sounds: ReturnType<typeof incoming>): Destination[] {
    const asked = sounds.map(({ name, family }) => ({ name, family }));
    return this.session.desk.destinations(asked, this.standIns);
  }

  /** Sounds that lanes of takes play until they get their own. */
  private standIns = $state.raw<string[]>([]);

  /** Whether a lane plays one of our sounds until it gets its own. */
  standsIn({ source }: Voice): boolean {
    return (
      source.kind === 'one_shot' &&
      source.layers.length === 1 &&
      source.layers.every((layer) => this.standIns.includes(layer.asset))
    );
  }

  private async findStandIns(): Promise<void> {
    const { takes } = this.session.doc;
    this.standIns = [];
    if (takes.length === 0) return;
    // The server knows a take once it has the edit that brought it.
    await this.session.settled();
    const found = await Promise.all(takes.map((take) => api.takeSounds(this.session.id, take.id)));
    this.standIns = found.flat().map((sound) => sound.asset.id);
  }

  /** What the session takes: nobody is asked where the rest shall go, which is refused as it would be behind that. */
  private fitting(brought: Brought[]): Brought[] {
    const sounds = incoming(brought);
    const places = placesOf(sounds, this.proposed(sounds));
    const { placed: edits } = placed(brought, this.session.header.sample_rate, places);
    const reasons = new Map(this.session.fit(edits.map((p) => p.edit)).map((r, at) => [edits[at]?.of, r]));
    return brought.filter((b) => {
      const reason = reasons.get(b);
      // What is proposed for a lane that is there may fit into another.
      if (reason === undefined || places.get(b)?.voice != null) return true;
      this.refuse(b.file, `Not brought in: ${reason}.`);
      return false;
    });
  }

  /** What waits, with the notes as they would find lanes behind the sounds. */
  private withNotes(waiting: Omit<Waiting, 'options'>): Waiting {
    const { brought, sounds, to } = waiting;
    const { header, doc, desk } = this.session;
    const places = placesOf(sounds, to);
    const ask = (before: Edit[], take: Take) => desk.notePlaces(before, take);
    const { lines, coming } = noteLines(brought, header.sample_rate, places, waiting.notes, ask);
    const options = notesOptions(doc.voices, coming);
    return { ...waiting, notes: chosenAgain(lines, waiting.notes, options), options };
  }

  /** Another place for a sound that waits: a lane, or nothing for a new one. */
  choose(at: number, voice: number | null): void {
    if (this.asking) this.asking = this.withNotes({ ...this.asking, to: choose(this.asking.to, at, voice) });
  }

  /** Another lane for notes that wait. */
  chooseNotes(line: NoteLine, chosen: NotesLane): void {
    if (!this.asking) return;
    const notes = this.asking.notes.map((n) => (n === line ? { ...n, chosen } : n));
    this.asking = this.withNotes({ ...this.asking, notes });
  }

  /** All as proposed, or each in a lane of its own. */
  chooseAll(how: 'proposed' | 'new'): void {
    if (!this.asking) return;
    const { proposed, notes } = this.asking;
    const chosen: NotesLane | undefined = how === 'new' ? { kind: 'new' } : undefined;
    this.asking = this.withNotes({
      ...this.asking,
      to: how === 'new' ? proposed.map((d) => ({ ...d, voice: null })) : proposed,
      notes: notes.map((n) => ({ ...n, chosen })),
    });
  }

  /** What waits comes in, or is left out. */
  answer(goes: boolean): void {
    const waiting = this.asking;
    this.asking = undefined;
    if (waiting && goes) this.apply(waiting.brought, waiting.sounds, waiting.to, waiting.notes);
  }

  private tellSkipped({ skipped, hidden }: Listed): void {
    const tell = (files: string[], why: string) => {
      if (files.length === 0) return;
      const names = files.slice(0, NAMES).join(', ');
      const more = files.length > NAMES ? ` and ${files.length - NAMES} more` : '';
      this.remarks.push(`Passed over, since they are ${why}: ${names}${more}.`);
    };
    tell(skipped, 'no sound');
    tell(hidden, 'hidden');
  }

  private refuse(file: string, reason: string): void {
    this.refused.push({ file, reason });
  }

  /** What is too much of a file, by what stands at its beginning; nothing where it fits, or says nothing. */
  private async tooMuch(file: File, size: number): Promise<string | undefined> {
    const head = await headOf(file);
    const minutes = head ? head.frames / head.rate / 60 : 0;
    const most = LIMITS.recording_seconds / 60;
    if (minutes > most)
      return `It is ${Math.ceil(minutes)} minutes long; ${most} can be brought in. Cut it and drop the parts.`;
    const { sample_rate } = this.session.header;
    const bytes = head ? playedBytes(head, sample_rate) : size;
    if (head && bytes <= this.room && bytes > ASKED_BYTES)
      await api.room(this.session.id, Math.round((head.frames * sample_rate) / head.rate), head.channels);
    if (bytes <= this.room) return undefined;
    const [takes, left] = [Math.ceil(bytes / MIB), Math.max(0, Math.floor(this.room / MIB))];
    return `It would take about ${takes} MiB while it plays; this session has room for ${left} MiB more. Cut it, or leave something out.`;
  }

  /** One file; what is known to be too much is told before it is sent. */
  private async bring(item: Item, signal: AbortSignal): Promise<Brought | undefined> {
    const pauses = new Pauses();
    for (;;) {
      try {
        const file = await item.load(signal);
        const fault = await this.tooMuch(file, item.bytes);
        if (fault !== undefined) {
          this.refuse(item.path, fault);
          return undefined;
        }
        const result = await api.bringIn(this.session.id, file, item.path, signal);
        if (result.kind !== 'midi') this.room -= result.asset.frames * result.asset.channels * 4;
        this.waiting = false;
        return { file: item.path, result };
      } catch (error) {
        if (signal.aborted) return undefined;
        const late =
          error instanceof ApiError && (error.status === 0 || error.status === 429 || error.status === 503);
        if (!late) {
          this.refuse(item.path, error instanceof Error ? error.message : String(error));
          return undefined;
        }
        this.waiting = true;
        await this.pause(error.retryAfterMs ?? pauses.grow(), signal);
      }
    }
  }

  /** Waits until the time is over, the network is back, or it is called off. */
  private pause(ms: number, signal: AbortSignal): Promise<void> {
    return new Promise((resolve) => {
      const end = () => {
        clearTimeout(timer);
        removeEventListener('online', end);
        signal.removeEventListener('abort', end);
        resolve();
      };
      const timer = setTimeout(end, ms);
      addEventListener('online', end);
      signal.addEventListener('abort', end);
    });
  }

  /** Puts what was read into the session in one step; a file that the session does not take is named and left out. */
  private apply(brought: Brought[], sounds: { of: Brought }[], to: Destination[], notes: NoteLine[]): void {
    const { lane: target } = this.session.header.targets;
    const { doc } = this.session;
    const places = placesOf(sounds, to);
    const keeps = (of: Brought) => {
      const voice = places.get(of)?.voice;
      return voice != null && keepsTrim(doc, voice);
    };
    const trimmed = sounds.filter(({ of }) => !keeps(of));
    const db = this.trims
      ? commonTrim(
          trimmed.map(({ of }) => of),
          target,
        )
      : undefined;
    const channelOf = (voice: number) =>
      keepsTrim(doc, voice) ? undefined : doc.voices.find((v) => v.id === voice)?.channel;
    const found = placed(
      brought,
      this.session.header.sample_rate,
      places,
      db === undefined ? undefined : { db, channelOf },
      (take) => chosenLanes(notes, take),
    );
    if (db !== undefined) {
      const sentence = trimSentence(db, trimmed.length, target);
      this.remarks.push(sentence);
      this.session.tell(sentence);
    }
    this.remarks.push(...found.remarks);
    const reasons = this.session.fit(found.placed.map((p) => p.edit));
    const fitting = found.placed.filter((_, at) => reasons[at] === undefined);
    found.placed.forEach(({ file }, at) => {
      const reason = reasons[at];
      if (reason !== undefined) this.refuse(file, `Not brought in: ${reason}.`);
    });
    if (fitting.length > 0) {
      const before = new Set(this.board.rows.map((r) => r.key));
      const edits = fitting.map((p) => p.edit);
      this.session.apply(asOne(edits));
      const single = edits.flatMap((e) => (e.kind === 'batch' ? e.edits : [e]));
      const filled = single.flatMap((e) => (e.kind === 'set_source' ? [`v${e.voice}`] : []));
      const came = this.board.rows.filter((r) => r.voice && (!before.has(r.key) || filled.includes(r.key)));
      if (came.length > 0) this.board.selected = came.map((r) => r.key);
    }
    const takes = brought.some((b) => b.result.kind === 'midi');
    this.board.show('bring-in', this.refused.length > 0 ? 'files' : takes ? 'takes' : 'sound');
  }
}
