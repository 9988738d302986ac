import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { BroughtIn, Edit, Session, Take } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import type { BoardState } from '$lib/state/board.svelte';
import { BringIn } from './bring-in.svelte';
import { rowsOf } from '$lib/state/rows';
import type { SessionState } from '$lib/state/session.svelte';

const note = (key: number, at: number): Take['notes'][number] => [0, 9, key, 100, at, 60];
const beat: Take = {
  name: 'Beat',
  tracks: [],
  notes: [note(36, 0), note(38, 960)],
  tempo_bpm: null,
  metre: null,
  remarks: [],
};
const sound = (name: string, family: 'low' | 'snare'): BroughtIn => ({
  kind: 'one_shot',
  name,
  family,
  asset: {
    id: Buffer.from(name).toString('hex').padEnd(64, '0'),
    name,
    channels: 1,
    sample_rate: 48_000,
    frames: 4800,
  },
  peak_dbfs: -2,
  time_reference: null,
  remarks: [],
});

/** What the server says to a file, by its name. */
let answers: Record<string, () => Response>;
let asked: string[];
/** Why the session takes no more lanes, where it does not. */
let full: string | undefined;
const ok = (result: BroughtIn) => () => Response.json(result);
const says = (status: number, body: object) => () => Response.json(body, { status });

beforeEach(() => {
  asked = [];
  full = undefined;
  answers = {
    'Kick.wav': ok(sound('Kick', 'low')),
    'Snap.wav': ok(sound('Snap', 'snare')),
    'beat.mid': ok({ kind: 'midi', take: beat, sounds: [] }),
  };
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined });
  vi.stubGlobal('addEventListener', () => undefined);
  vi.stubGlobal('removeEventListener', () => undefined);
  vi.stubGlobal('fetch', (path: string, init: RequestInit) => {
    if (init.signal?.aborted) return Promise.reject(new DOMException('called off', 'AbortError'));
    const name = Object.keys(answers).find((file) => path.includes(encodeURIComponent(file))) ?? '';
    asked.push(name);
    return Promise.resolve(answers[name]?.() ?? Response.json({}, { status: 404 })).then(
      (answer: Response) => {
        answer.headers.set('x-zealous-lane', '1');
        return answer;
      },
    );
  });
});
afterEach(() => vi.useRealTimers());

/** Files on their way into a session that edits made. */
function bringing(...edits: Edit[]) {
  const desk = onDesk(...edits);
  const done: Edit[] = [];
  const told: string[] = [];
  const session = {
    id: 'one',
    desk,
    get doc(): Session {
      return desk.document();
    },
    get header() {
      return desk.document().header;
    },
    fit: (all: Edit[]) => all.map((edit) => (full && edit.kind === 'add_voices' ? full : undefined)),
    apply: (edit: Edit) => {
      done.push(edit);
      desk.apply(edit);
      return true;
    },
    tell: (sentence: string) => told.push(sentence),
  };
  const board = {
    get rows() {
      return rowsOf(desk.document());
    },
    selected: [] as string[],
    shown: 'sound',
    show(stage: string, tab: string) {
      if (stage === 'bring-in') this.shown = tab;
    },
  };
  const bringIn = new BringIn(session as unknown as SessionState, board as unknown as BoardState);
  const take = (...names: string[]) =>
    bringIn.take(names.map((path) => ({ path, file: new File(['x'], path) })));
  const hits = (name: string) => {
    const doc = desk.document();
    const voice = doc.voices.find((v) => v.name === name)?.id;
    return doc.parts.filter((p) => p.voice === voice).reduce((sum, p) => sum + p.hits.length, 0);
  };
  const lanes = () => desk.document().voices.map((v) => v.name);
  return { bringIn, take, done, told, board, session, hits, lanes };
}

describe('what comes in', () => {
  test('where nothing waits becomes lanes at once, in one edit, trimmed together, and is chosen', async () => {
    const { take, bringIn, done, told, board, lanes } = bringing();
    await take('Kick.wav', 'Snap.wav');
    expect(bringIn.asking).toBeUndefined();
    expect(lanes()).toEqual(['Kick', 'Snap']);
    expect(done).toHaveLength(1);
    expect(told).toHaveLength(1);
    expect(board.selected).toHaveLength(2);
  });

  test('is asked where a lane waits for it, and left out on a no', async () => {
    const { take, bringIn, done } = bringing(addLanes(newVoice('Kick')));
    await take('Kick.wav');
    expect(bringIn.asking?.to.map((d) => d.voice)).toEqual([expect.any(Number)]);
    bringIn.answer(false);
    expect([bringIn.asking, done]).toEqual([undefined, []]);
  });

  test('as notes shows lanes that are there and those that come with it', async () => {
    const { take, bringIn, hits, lanes } = bringing(addLanes(newVoice('Kick')));
    await take('Snap.wav', 'beat.mid');
    const texts = bringIn.asking?.options.map((o) => o.text);
    expect(texts).toEqual(['a new lane', 'Kick', 'Snap, which comes in']);
    const snare = bringIn.asking?.notes.find((n) => n.notes === 'Snare');
    expect(snare?.proposed).toEqual({ kind: 'new' });
    if (snare) bringIn.chooseNotes(snare, { kind: 'named', name: 'Snap' });
    bringIn.answer(true);
    expect(lanes()).toEqual(['Kick', 'Snap']);
    expect([hits('Kick'), hits('Snap')]).toEqual([1, 1]);
  });

  test('as notes follows the sounds: one whose sound fills a lane no longer comes in as a lane', async () => {
    const { take, bringIn } = bringing(addLanes(newVoice('Snap', 'snare')));
    await take('Snap.wav', 'beat.mid');
    const snare = () => bringIn.asking?.notes.find((n) => n.notes === 'Snare');
    bringIn.choose(0, null);
    const chosen = snare();
    if (chosen) bringIn.chooseNotes(chosen, { kind: 'named', name: 'Snap 2' });
    expect(snare()?.chosen).toEqual({ kind: 'named', name: 'Snap 2' });
    bringIn.choose(0, bringIn.asking?.proposed[0]?.voice ?? null);
    expect(bringIn.asking?.options.map((o) => o.text)).toEqual(['a new lane', 'Snap']);
    expect(snare()?.chosen).toBeUndefined();
  });

  test('goes all into new lanes, or all back to what was proposed', async () => {
    const { take, bringIn, lanes } = bringing(addLanes(newVoice('Kick')));
    await take('Kick.wav', 'beat.mid');
    bringIn.chooseAll('new');
    expect(bringIn.asking?.to.map((d) => d.voice)).toEqual([null]);
    expect(bringIn.asking?.notes.map((n) => n.chosen)).toEqual([{ kind: 'new' }, { kind: 'new' }]);
    bringIn.chooseAll('proposed');
    expect(bringIn.asking?.notes.map((n) => n.chosen)).toEqual([undefined, undefined]);
    bringIn.chooseAll('new');
    bringIn.answer(true);
    expect(lanes()).toEqual(['Kick', 'Kick 2', 'Kick 3', 'Snare']);
  });

  test('as notes alone into an empty session asks nothing, since there is no choice', async () => {
    const { take, bringIn, lanes, board } = bringing();
    await take('beat.mid');
    expect(bringIn.asking).toBeUndefined();
    expect(lanes()).toEqual(['Kick', 'Snare']);
    expect(board.shown).toBe('takes');
  });
});

describe('a file that does not come in', () => {
  test('is named with its reason, and its neighbours come', async () => {
    answers['bad.wav'] = says(422, { detail: 'It has no samples.' });
    const { take, bringIn, lanes, board } = bringing();
    await take('Kick.wav', 'bad.wav');
    expect(bringIn.refused).toEqual([{ file: 'bad.wav', reason: 'It has no samples.' }]);
    expect(lanes()).toEqual(['Kick']);
    expect(board.shown).toBe('files');
  });

  test('is not asked about, where the session does not take it: only what fills a lane is', async () => {
    full = 'a session has 1024 lanes at most';
    const { take, bringIn } = bringing(addLanes(newVoice('Kick')));
    await take('Kick.wav', 'Snap.wav');
    expect(bringIn.refused).toEqual([
      { file: 'Snap.wav', reason: 'Not brought in: a session has 1024 lanes at most.' },
    ]);
    expect(bringIn.asking?.sounds.map((s) => s.name)).toEqual(['Kick']);
  });

  test('because the session does not take it is named as well', async () => {
    const { take, bringIn, session, done } = bringing();
    session.fit = (all) => all.map(() => 'a session has 300 lanes at most');
    await take('Kick.wav');
    expect(bringIn.refused[0]?.reason).toBe('Not brought in: a session has 300 lanes at most.');
    expect(done).toEqual([]);
  });

  test.each([
    ['the server is away', () => Promise.reject(new TypeError('away'))],
    ['it is busy', says(503, { detail: 'Busy.', retry_after_s: 0.5 })],
  ])('yet, while %s, is tried again', async (_, first) => {
    vi.useFakeTimers();
    let tries = 0;
    const fine = answers['Kick.wav'] as () => Response;
    answers['Kick.wav'] = () => ((tries += 1) === 1 ? (first() as Response) : fine());
    const { take, bringIn, lanes } = bringing();
    const taking = take('Kick.wav');
    await vi.waitFor(() => expect(bringIn.waiting).toBe(true));
    expect(lanes()).toEqual([]);
    await vi.advanceTimersByTimeAsync(1000);
    await taking;
    expect([bringIn.waiting, bringIn.refused]).toEqual([false, []]);
    expect(lanes()).toEqual(['Kick']);
  });

  test('when it is called off leaves nothing behind', async () => {
    vi.useFakeTimers();
    answers['Kick.wav'] = says(503, { detail: 'Busy.', retry_after_s: 60 });
    const { take, bringIn, done } = bringing();
    const taking = take('Kick.wav');
    await vi.waitFor(() => expect(bringIn.waiting).toBe(true));
    bringIn.cancel();
    await taking;
    expect([bringIn.running, bringIn.waiting, done, asked]).toEqual([false, false, [], ['Kick.wav']]);
  });
});
