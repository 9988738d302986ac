import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { FromGauge, GaugeRun, ToGauge } from '$lib/audio/messages';
import { addLanes, newVoice, onDesk, sessionOn } from '$testing/on-desk';
import type { BoardState } from './board.svelte';
import { Gauge } from './gauge.svelte';
import type { SessionState } from './session.svelte';

vi.mock('$lib/audio/desk', async (original) => ({
  ...(await original<object>()),
  loadModule: () => Promise.resolve({}),
}));

type Said<T = FromGauge> = T extends unknown ? Omit<T, 'turn'> : never;

/** Workers that say what the test has them say. */
class Fake {
  static made: Fake[] = [];
  asked: GaugeRun[] = [];
  ended = false;
  cancelled = 0;
  onmessage?: (event: { data: FromGauge }) => void;
  onerror?: () => void;
  constructor() {
    Fake.made.push(this);
  }
  postMessage(said: ToGauge): void {
    if (said.kind === 'ask') this.asked.push(said);
    else this.cancelled += 1;
  }
  terminate(): void {
    this.ended = true;
  }
  says(data: Said, turn = this.asked.at(-1)?.turn ?? 0): void {
    this.onmessage?.({ data: { turn, ...data } });
  }
}
const worker = (n = Fake.made.length - 1) => Fake.made[n] as Fake;
const FOUND = { measured: {}, proposal: {}, sums: [], suggestions: [], sum_repair: null };
const found = (n = 0): Said => ({
  kind: 'answer',
  answer: { about: 'levels', ...FOUND, sums: [n] } as never,
});

beforeEach(() => {
  Fake.made = [];
  vi.stubGlobal('Worker', Fake);
});

function gauged() {
  const session = sessionOn(onDesk(addLanes(newVoice('Kick'))));
  const board = { loopStart: 2, loop: { length: 4 }, frameOf: (bar: number) => bar * 1000 };
  const gauge = new Gauge(session as unknown as SessionState, board as unknown as BoardState);
  const change = () =>
    session.apply({
      kind: 'set_strips',
      strips: [session.doc.voices[0]?.channel ?? 0],
      change: { what: 'fader_db', to: -3 },
    });
  const asked = async (times = 1) => {
    await vi.waitFor(() => expect(Fake.made.flatMap((w) => w.asked)).toHaveLength(times));
    return worker();
  };
  return { session, board, gauge, change, asked };
}

describe('measuring the loop', () => {
  test('is of the loop and the session, says how far it is, and is fresh until one of them changes', async () => {
    const { gauge, asked, change, board, session } = gauged();
    const measuring = gauge.measure();
    const { asked: runs } = await asked();
    expect(runs[0]).toMatchObject({
      from: 2000,
      to: 6000,
      question: { about: 'levels', without: false },
      heard: JSON.stringify({ session: session.doc, edits: [] }),
    });
    worker().says({ kind: 'progress', part: 0.4 });
    expect([gauge.part, gauge.doing]).toEqual([0.4, 'Measuring the loop']);
    worker().says(found());
    expect((await measuring)?.to).toBe(6000);
    expect([gauge.part, gauge.fresh]).toEqual([undefined, true]);
    board.loopStart = 3;
    expect(gauge.fresh).toBe(false);
    board.loopStart = 2;
    change();
    expect(gauge.fresh).toBe(false);
  });

  test('is of the session without what is tried out, as it stood when it was asked for', async () => {
    const { gauge, asked, session, change } = gauged();
    const without = session.doc;
    change();
    const tried = session.doc;
    vi.spyOn(session, 'settledDoc', 'get').mockReturnValue(without);
    const first = gauge.measure();
    vi.spyOn(session, 'settledDoc', 'get').mockReturnValue(tried);
    const runs = (await asked()).asked;
    expect(JSON.parse(runs[0]?.heard ?? '')).toEqual({ session: without, edits: [] });
    worker().says(found());
    expect((await first)?.doc).toBe(without);
    // What was tried out is kept now.
    expect(gauge.fresh).toBe(false);
  });

  test('what is fresh is not measured again; another run has the worker that is there', async () => {
    const { gauge, asked, change } = gauged();
    const first = gauge.measure();
    (await asked()).says(found(1));
    const reading = await first;
    expect(await gauge.measure()).toBe(reading);
    change();
    const second = gauge.measure();
    (await asked(2)).says(found(2));
    expect((await second)?.found.sums).toEqual([2]);
    expect(Fake.made).toHaveLength(1);
  });

  test('that is called off finds nothing, and what was found before stays', async () => {
    const { gauge, asked, change } = gauged();
    const first = gauge.measure();
    (await asked()).says(found(1));
    await first;
    change();
    const second = gauge.measure();
    await asked(2);
    gauge.cancel();
    expect(await second).toBeUndefined();
    // The worker is told, and stays with its module and its audio.
    expect([gauge.part, gauge.problem, worker().cancelled, worker().ended]).toEqual([
      undefined,
      '',
      1,
      false,
    ]);
    // What was on its way when it was told says nothing any more.
    worker().says({ kind: 'progress', part: 0.5 });
    expect(gauge.part).toBeUndefined();
    expect(gauge.reading?.found.sums).toEqual([1]);
  });

  test('gives way to what is asked next, whose progress stands', async () => {
    const { gauge, asked } = gauged();
    const first = gauge.measure();
    await asked();
    const second = gauge.ask('Trying it', { about: 'levels', without: true });
    await asked(2);
    expect(await first).toBeUndefined();
    expect([Fake.made.length, gauge.part, gauge.doing]).toEqual([1, 0, 'Trying it']);
    // What the first says late is nobody's.
    worker().says(found(7), 1);
    worker().says(found(2));
    expect((await second)?.sums).toEqual([2]);
    // A run of something else is no reading of the session.
    expect(gauge.reading).toBeUndefined();
  });

  test.each([
    [
      'what the core says',
      (w: Fake) => w.says({ kind: 'failed', error: 'Strip 9 is gone.' }),
      'Strip 9 is gone.',
    ],
    ['a worker that broke', (w: Fake) => w.onerror?.(), 'The measuring run stopped. Try again.'],
  ])('that fails says why: %s; the next one begins anew', async (_, fails, said) => {
    const { gauge, asked } = gauged();
    const first = gauge.measure();
    fails(await asked());
    expect(await first).toBeUndefined();
    expect([gauge.problem, gauge.part, worker().ended]).toEqual([said, undefined, true]);
    const second = gauge.measure();
    (await asked(2)).says(found());
    await second;
    expect([Fake.made.length, gauge.problem]).toEqual([2, '']);
  });

  test('that is called off before it begins is not begun', async () => {
    const { gauge, asked } = gauged();
    const first = gauge.measure();
    gauge.cancel();
    expect(await first).toBeUndefined();
    expect([gauge.part, Fake.made.length]).toEqual([undefined, 0]);
    const second = gauge.measure();
    (await asked()).says(found());
    expect((await second)?.found).toBeDefined();
  });

  test('with no run under way, calling off does nothing', async () => {
    const { gauge, asked } = gauged();
    gauge.cancel();
    const first = gauge.measure();
    (await asked()).says(found());
    await first;
    gauge.cancel();
    expect(worker().ended).toBe(false);
  });
});

describe('questions', () => {
  test('go to the worker whole, and are answered with what they are about', async () => {
    const { gauge, asked } = gauged();
    const span = { from: 1, to: 2 };
    const question = { about: 'duckers', focus: 7, goal: null, room: true } as const;
    const found = gauge.ask('', question, { span, key: 'a' });
    const there = await asked();
    expect(there.asked[0]).toMatchObject({ question, from: 1, to: 2, key: 'a' });
    there.says({ kind: 'answer', answer: { about: 'duckers', duckers: [] } as never });
    expect(await found).toMatchObject({ duckers: [] });
  });

  test('about another state are asked of that state', async () => {
    const { gauge, asked, session: now } = gauged();
    const session = structuredClone(now.doc);
    const side = gauge.ask('Measuring Then', { about: 'side', without: false }, { session });
    const there = await asked();
    expect(JSON.parse(there.asked[0]?.heard ?? '').session).toEqual(session);
    there.says({ kind: 'answer', answer: { about: 'side', lufs: -14 } as never });
    expect(await side).toMatchObject({ lufs: -14 });
  });

  test('that are answered with something else have no answer', async () => {
    const { gauge, asked } = gauged();
    const side = gauge.ask('', { about: 'side', without: false });
    (await asked()).says(found());
    expect(await side).toBeUndefined();
  });

  test('whose worker is in the middle of something get another one', async () => {
    vi.useFakeTimers();
    try {
      const { gauge } = gauged();
      void gauge.measure();
      await vi.advanceTimersByTimeAsync(0);
      const next = gauge.ask('', { about: 'side', without: false });
      await vi.advanceTimersByTimeAsync(1000);
      expect([Fake.made.length, worker(0).ended, worker(1).asked.length]).toEqual([2, true, 1]);
      worker(1).says({ kind: 'answer', answer: { about: 'side', lufs: -14 } as never });
      expect(await next).toMatchObject({ lufs: -14 });
    } finally {
      vi.useRealTimers();
    }
  });
});
