import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { GaugeAnswer, GaugeRun } from '$lib/audio/messages';
import { addLanes, newVoice, onDesk, sessionOn } from '$lib/audio/on-desk';
import type { BoardState } from './board.svelte';
import { Gauge } from './gauge.svelte';
import type { SessionState } from './session.svelte';

vi.mock('$lib/audio/desk', async (original) => ({
  ...(await original<object>()),
  loadModule: () => Promise.resolve({}),
}));

/** Workers that say what the test has them say. */
class Fake {
  static made: Fake[] = [];
  asked: GaugeRun[] = [];
  ended = false;
  onmessage?: (event: { data: GaugeAnswer }) => void;
  onerror?: () => void;
  constructor() {
    Fake.made.push(this);
  }
  postMessage(run: GaugeRun): void {
    this.asked.push(run);
  }
  terminate(): void {
    this.ended = true;
  }
  says(data: GaugeAnswer): void {
    this.onmessage?.({ data });
  }
}
const worker = (n = Fake.made.length - 1) => Fake.made[n] as Fake;
const FOUND = { measured: {}, proposal: {}, sums: [], suggestions: [], sum_repair: null };
const found = (n = 0): GaugeAnswer => ({ kind: 'found', found: { ...FOUND, sums: [n] } as never });

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
    expect(runs[0]).toMatchObject({ from: 2000, to: 6000, edits: [], without: false, session: session.doc });
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
    expect([gauge.part, gauge.problem, worker().ended]).toEqual([undefined, '', true]);
    expect(gauge.reading?.found.sums).toEqual([1]);
  });

  test('gives way to what is asked next, whose progress stands', async () => {
    const { gauge, asked } = gauged();
    const first = gauge.measure();
    await asked();
    const second = gauge.run('Trying it', [], true);
    await asked(2);
    expect(await first).toBeUndefined();
    expect([worker(0).ended, gauge.part, gauge.doing]).toEqual([true, 0, 'Trying it']);
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
  test.each([
    [
      'ducks',
      (g: Gauge) => g.ducks('', 7, { from: 1, to: 2 }, { room: true }),
      { ducks: { focus: 7, room: true } },
    ],
    [
      'ducks with a goal',
      (g: Gauge) => g.ducks('', 7, { from: 1, to: 2 }, { goal: { kind: 'depth', db: 6 } as never }),
      { ducks: { focus: 7, room: false, goal: { kind: 'depth', db: 6 } } },
    ],
    ['a side', (g: Gauge) => g.side('', { without: true }), { side: { without: true }, from: 2000 }],
    ['a recording', (g: Gauge) => g.recorded(4), { recorded: 4, from: 2000 }],
  ])('go to the worker whole: %s', async (_, ask, run) => {
    const { gauge, asked } = gauged();
    void ask(gauge);
    expect((await asked()).asked[0]).toMatchObject(run);
  });

  test('a side of another state is heard as that state', async () => {
    const { gauge, asked, session } = gauged();
    const other = structuredClone(session.doc);
    const side = gauge.side('Measuring Then', { without: false }, other);
    const there = await asked();
    expect(there.asked[0]?.session).toBe(other);
    there.says({ kind: 'heard', heard: { lufs: -14 } as never });
    expect(await side).toEqual({ lufs: -14 });
  });

  test('an answer of another kind is none', async () => {
    const { gauge, asked } = gauged();
    const side = gauge.side('', { without: false });
    (await asked()).says(found());
    expect(await side).toBeUndefined();
  });
});
