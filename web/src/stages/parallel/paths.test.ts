import { describe, expect, test } from 'vitest';
import type { Alignment, Blend, Bypass, Edit, MainFigures, Pathed, Question, Session } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import type { Player } from '$lib/audio/player.svelte';
import { patched } from '$lib/sync/patched';
import type { BoardState } from '$lib/state/board.svelte';
import type { Gauge } from '$lib/state/gauge.svelte';
import { Paths } from './paths.svelte';
import type { SessionState } from '$lib/state/session.svelte';

type PathsQuestion = Extract<Question, { about: 'paths' }> & { key: string };

const OFF: Alignment = {
  verdict: 'off',
  delay_frames: 37,
  inverted: true,
  correlation: 0.98,
  now: -0.4,
  gain_db: 5,
};
const figures = (lufs: number): MainFigures => ({
  sample_peak_dbfs: -6,
  true_peak_dbtp: -5.8,
  lufs,
  crest_db: 12,
});
const blendAt = (fader_db: number): Blend => ({
  fader_db,
  with: figures(-17),
  without: figures(-19),
  before_limiter: false,
});
const NOTHING: Pathed = {
  returns: [],
  lanes: [],
  comb: null,
  bench: null,
  solved: null,
  found: null,
  at: null,
};

/** A kick with a path, and runs that answer as they are told. */
function pathing(answer: (asked: PathsQuestion, path: number) => Partial<Pathed> | undefined) {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare')), (doc) => ({
    kind: 'new_return',
    name: 'Press',
    feeders: doc.voices.map((v) => v.channel),
    silent: true,
  }));
  let doc: Session = desk.document();
  const path = doc.strips.find((s) => s.kind === 'return')?.id ?? 0;
  const asked: PathsQuestion[] = [];
  const told: string[] = [];
  const done: Edit[] = [];
  const tried: { name: string; edit: Edit }[] = [];
  const heard: Bypass[] = [];
  const session = {
    desk,
    trial: undefined as unknown,
    get doc() {
      return doc;
    },
    get settledDoc() {
      return doc;
    },
    nameOf: () => 'Press',
    apply: (edit: Edit) => {
      done.push(edit);
      // What did not change stays the same object, as on the page.
      doc = patched(doc, desk.apply(edit).there);
      return true;
    },
    tell: (sentence: string) => told.push(sentence),
    startTrial: (name: string, edit: Edit) => {
      tried.push({ name, edit });
      session.trial = { name, edit };
    },
    endTrial: () => void (session.trial = undefined),
  };
  const gauge = {
    part: undefined as number | undefined,
    cancelled: 0,
    cancel: () => void (gauge.cancelled += 1),
    ask: (_: string, asks: Extract<Question, { about: 'paths' }>, { key }: { key: string }) => {
      const question = { ...asks, key };
      asked.push(question);
      const found = answer(question, path);
      return Promise.resolve(found && { ...NOTHING, ...found });
    },
  };
  const board = {
    heard: {} as BoardState['heard'],
    loopStart: 0,
    loop: { length: 4 },
    frameOf: (bar: number) => bar * 48_000,
  };
  const player = { passBy: (to: Bypass) => void heard.push(to), hearNow: () => undefined };
  const paths = new Paths(
    session as unknown as SessionState,
    board as unknown as BoardState,
    gauge as unknown as Gauge,
    player as unknown as Player,
  );
  paths.path = path;
  const whole = (fader_db = -100): Partial<Pathed> => ({
    returns: [{ strip: path, alignment: OFF }],
    bench: { strip: path, blend: blendAt(fader_db), press: null, comb: null },
  });
  const set = (to: number) =>
    session.apply({ kind: 'set_strips', strips: [path], change: { what: 'fader_db', to } });
  const strip = () => doc.strips.find((s) => s.id === path);
  const checks = () => board.heard.parallel?.checks ?? [];
  return { checks, paths, path, asked, told, done, tried, heard, session, gauge, whole, set, strip };
}

const first = (q: PathsQuestion) => q.goal === null && q.budget_db === null && q.fader_db === null;

describe('what is heard of paths', () => {
  test('is heard once, and is that of the session as it is', async () => {
    const t = pathing((q) => (first(q) ? t.whole() : undefined));
    expect(t.paths.fresh).toBe(false);
    await t.paths.listen();
    await t.paths.listen();
    expect(t.asked).toHaveLength(1);
    expect(t.paths.fresh).toBe(true);
    expect(t.paths.of(t.path)).toEqual(OFF);
    expect(t.paths.bench?.blend?.fader_db).toBe(-100);
  });

  test('where only the fader moved, what lies behind it is heard again, by the same key', async () => {
    const t = pathing((q) => (q.fader_db === null ? t.whole() : { at: blendAt(q.fader_db) }));
    await t.paths.listen();
    t.set(-9);
    expect(t.paths.fresh).toBe(false);
    await t.paths.listen();
    expect(t.asked[1]).toMatchObject({ fader_db: -9, key: t.asked[0]?.key });
    expect(t.paths.bench?.blend?.fader_db).toBe(-9);
    expect(t.paths.fresh).toBe(true);
    // Another change makes all of it old.
    t.session.apply({ kind: 'set_strips', strips: [t.path], change: { what: 'trim_db', to: -3 } });
    await t.paths.listen();
    expect(t.asked[2]?.fader_db).toBeNull();
    expect(t.asked[2]?.key).not.toBe(t.asked[0]?.key);
  });

  test('that failed is not begun again by itself, but on wish', async () => {
    const t = pathing(() => undefined);
    await t.paths.listen();
    await t.paths.listen();
    expect(t.asked).toHaveLength(1);
    expect(t.paths.rests).toBe(true);
    t.paths.again();
    await Promise.resolve();
    expect(t.asked).toHaveLength(2);
  });

  test('what is asked of it needs no second hearing', async () => {
    const t = pathing((q) => (first(q) ? t.whole() : { found: { fader_db: -7.3, peak_db: 0.5 } }));
    await t.paths.listen();
    await t.paths.findBlend(0.5);
    expect(t.asked[1]).toMatchObject({ budget_db: 0.5, key: t.asked[0]?.key });
    expect(t.strip()?.fader_db).toBe(-7.3);
    expect(t.told).toEqual(['Blend -7.3 dB: +0.5 dB of peak.']);
  });

  test('a budget that nothing fits is said, and nothing is set', async () => {
    const t = pathing((q) => (first(q) ? t.whole() : { found: { fader_db: null, peak_db: 0.8 } }));
    await t.paths.listen();
    await t.paths.findBlend(0.1);
    expect(t.done).toEqual([]);
    expect(t.told[0]).toMatch(/^Not set: even at -45 dB the peak rises by 0\.8 dB\./);
  });

  test('an answer of a session that changed meanwhile is not taken', async () => {
    const t = pathing((q) => {
      if (first(q)) return t.whole();
      t.set(-3);
      return { found: { fader_db: -7, peak_db: 0.5 } };
    });
    await t.paths.listen();
    await t.paths.findBlend(0.5);
    expect(t.strip()?.fader_db).toBe(-3);
    expect(t.told).toEqual(['Not set: the session changed meanwhile. Try again.']);
  });

  test('a path without a compressor of its own cannot be solved for', async () => {
    const t = pathing((q) => (first(q) ? t.whole() : {}));
    await t.paths.listen();
    await t.paths.reach({ goal: 'back', beats: 0.5 });
    expect(t.told).toEqual(['Not set: no compressor of it goes by its own sound.']);
  });
});

describe('what lies off', () => {
  test('is mended by an offset and polarity, in one step', async () => {
    const t = pathing(() => t.whole());
    await t.paths.listen();
    await t.paths.mend([{ strip: t.path, alignment: OFF }]);
    expect(t.done).toHaveLength(1);
    expect(t.strip()).toMatchObject({ offset_frames: -37, polarity: 'inverted' });
  });

  test('adds to the offset that is there, and leaves alone what is in time', async () => {
    const t = pathing(() => t.whole());
    t.session.apply({ kind: 'set_strips', strips: [t.path], change: { what: 'offset_frames', to: 5 } });
    await t.paths.listen();
    await t.paths.mend([{ strip: t.path, alignment: { ...OFF, inverted: false } }]);
    expect(t.strip()).toMatchObject({ offset_frames: -32, polarity: 'normal' });
    expect(t.session.desk.mends([{ strip: t.path, alignment: { ...OFF, verdict: 'unrelated' } }])).toEqual(
      [],
    );
  });

  test('of a session that changed since is not mended', async () => {
    const t = pathing(() => t.whole());
    await t.paths.listen();
    t.session.apply({ kind: 'set_strips', strips: [t.path], change: { what: 'offset_frames', to: 5 } });
    await t.paths.mend([{ strip: t.path, alignment: OFF }]);
    expect(t.strip()?.offset_frames).toBe(5);
    expect(t.told[0]).toMatch(/^Not mended/);
  });

  test('is heard mended and in mono first, and nothing of it is kept', async () => {
    const t = pathing(() => t.whole());
    await t.paths.listen();
    t.paths.hearMended([{ strip: t.path, alignment: OFF }], true, true);
    expect(JSON.stringify(t.tried.at(-1)?.edit)).toContain('"what":"width_percent","to":0');
    t.paths.hearMended([{ strip: t.path, alignment: OFF }], false, true);
    expect(JSON.stringify(t.tried.at(-1)?.edit)).not.toContain('offset_frames');
    t.paths.hearMended([], false, false);
    expect(t.paths.heard).toBeUndefined();
    expect(t.session.trial).toBeUndefined();
    expect(t.done).toEqual([]);
  });
});

describe('what is worth a look', () => {
  test('is a path that lies off, with what mends it, until it is put out of sight', async () => {
    const t = pathing(() => t.whole());
    await t.paths.listen();
    const [check] = t.checks();
    expect(check).toMatchObject({
      key: `off ${t.path}`,
      sentence: 'Press is 37 samples late, inverted beside what feeds it: together they lose 5.0 dB.',
      dismissed: false,
    });
    t.session.apply(check?.repair?.edit as Edit);
    expect(t.strip()).toMatchObject({ offset_frames: -37, polarity: 'inverted' });
    t.session.apply({ kind: 'dismiss_check', key: `off ${t.path}`, dismissed: true });
    await t.paths.listen();
    expect(t.checks()[0]?.dismissed).toBe(true);
  });

  test('is a compressor over its budget', async () => {
    const settings = onDesk().kinds.find((k) => k.default.kind === 'compressor')?.default;
    const t = pathing(() => {
      const processor = t.strip()?.chain[0]?.id ?? 0;
      const press = { processor, deepest_db: 6.2 } as never;
      return { bench: { strip: t.path, blend: null, press, comb: null } };
    });
    const put = (budget_db: number) =>
      t.session.apply({
        kind: 'insert_processors',
        strips: [t.path],
        processors: [
          {
            id: 1,
            on: true,
            input_db: 0,
            output_db: 0,
            mix_percent: 100,
            key: null,
            settings: { ...settings, budget_db } as never,
          },
        ],
        at: null,
        replace: true,
      });
    for (const [budget, count] of [
      [0, 0],
      [2, 1],
      [6.2, 0],
    ] as const) {
      put(budget);
      await t.paths.listen();
      expect(t.checks()).toHaveLength(count);
    }
    put(2);
    await t.paths.listen();
    expect(t.checks()[0]?.sentence).toBe(
      'The compressor of Press takes 6.2 dB in the loop; its budget is 2.0.',
    );
  });
});

describe('without it', () => {
  test('main comes up to what it was with it, all of it turned down so that nothing gets louder', async () => {
    const t = pathing(() => t.whole(-100));
    await t.paths.listen();
    t.paths.flipWithout();
    expect(t.paths.heard).toMatchObject({ heard: 'without', offset: 2, down: 2 });
    expect(t.tried.at(-1)?.edit).toMatchObject({ change: { what: 'mute', to: true } });
    expect(t.heard.at(-1)).toEqual({ processors: [], main_db: 0 });
    t.paths.flipWithout();
    expect(t.session.trial).toBeUndefined();
    expect(t.heard.at(-1)).toEqual({ processors: [], main_db: -2 });
    t.paths.end();
    expect(t.heard.at(-1)).toEqual({ processors: [], main_db: 0 });
  });

  test('ends where undo took it back, and where nobody looks any more', async () => {
    const t = pathing(() => t.whole(-100));
    await t.paths.listen();
    t.paths.flipWithout();
    t.session.endTrial();
    t.paths.follow();
    expect(t.paths.heard).toBeUndefined();
    t.paths.flipWithout();
    t.paths.leave();
    expect(t.paths.heard).toBeUndefined();
    expect(t.gauge.cancelled).toBe(0);
  });
});
