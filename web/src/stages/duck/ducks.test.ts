import { describe, expect, test } from 'vitest';
import type {
  Ducked,
  DuckFigures,
  DuckerWaves,
  Edit,
  Goal,
  PairFigures,
  Question,
  Room,
  Session,
  Solved,
} from '$lib/api/types';
import { addLanes, newVoice, onDesk, wholeKey } from '$testing/on-desk';
import type { BoardState } from '$lib/state/board.svelte';
import { BEAT } from '$lib/state/duckers';
import { patched } from '$lib/sync/patched';
import { Ducks } from './ducks.svelte';
import type { Gauge } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';

const FIGURES: DuckFigures = {
  hits: [],
  depth_db: 6,
  average_db: 2,
  late: 0,
  recovery_ms: 40,
  stuck: false,
  opening: null,
};

type DuckQuestion = Extract<Question, { about: 'duckers' }>;

interface Asked {
  focus: number;
  room: boolean;
  goal?: Goal | undefined;
  edits: Edit[];
}

/** Duckers over a session on a real desk, and runs that answer as they are told. */
function ducking(answer: (asked: Asked) => Ducked | undefined = () => undefined, refusal?: string) {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Bass', 'bass'), newVoice('Pad', 'music')));
  const asked: Asked[] = [];
  const told: string[] = [];
  const done: Edit[] = [];
  let doc = desk.document();
  const session = {
    desk,
    get doc(): Session {
      return doc;
    },
    get settledDoc(): Session {
      return doc;
    },
    get header() {
      return doc.header;
    },
    nameOf: (strip: number) => doc.voices.find((v) => v.channel === strip)?.name ?? '',
    fit: (edits: Edit[]) => edits.map(() => refusal),
    apply: (edit: Edit) => {
      done.push(edit);
      if (refusal) return false;
      // Pieces that stay the same stay the same objects, as on the page.
      doc = patched(doc, desk.apply(edit).there);
      return true;
    },
    tell: (sentence: string) => told.push(sentence),
  };
  const gauge = {
    part: undefined as number | undefined,
    problem: '',
    cancelled: 0,
    cancel: () => void (gauge.cancelled += 1),
    ask: (_: string, question: DuckQuestion, { edits = [] }: { edits?: Edit[] } = {}) => {
      const { focus, goal, room } = question;
      asked.push({ focus: focus ?? 0, goal: goal ?? undefined, edits, room });
      return Promise.resolve(answer({ focus: focus ?? 0, goal: goal ?? undefined, edits, room }));
    },
  };
  const board = {
    rows: [],
    duckKeys: [],
    ducker: undefined,
    heard: {},
    loopStart: 0,
    loop: { length: 4 },
    // Bars of a second.
    frameOf: (bar: number) => bar * 48_000,
  };
  const ducks = new Ducks(
    session as unknown as SessionState,
    board as unknown as BoardState,
    gauge as unknown as Gauge,
  );
  const channel = (name: string) => doc.voices.find((v) => v.name === name)?.channel ?? 0;
  return { ducks, asked, told, done, session, gauge, board, channel };
}

const solved = (change: Partial<Solved>, figures: Partial<DuckFigures> = {}): Ducked => ({
  duckers: [],
  waves: [],
  solved: { settings: compressor(), figures: { ...FIGURES, ...figures }, short: null, sum: null, ...change },
  pair: null,
  room: null,
});
const kinds = onDesk().kinds;
const compressor = (change: object = {}) =>
  ({ ...kinds.find((k) => k.default.kind === 'compressor')?.default, ...change }) as Solved['settings'];

describe('hearing again', () => {
  const nothing: Ducked = { duckers: [], waves: [], solved: null, pair: null, room: null };

  test('happens once for a session and loop as they are', async () => {
    const { ducks, asked, board } = ducking(() => nothing);
    await ducks.listen();
    await ducks.listen();
    expect(asked).toHaveLength(1);
    expect(ducks.fresh).toBe(true);
    board.loop.length = 2;
    expect(ducks.fresh).toBe(false);
    await ducks.listen();
    expect(asked).toHaveLength(2);
  });

  test('that was called off is not begun again by itself, until something changes', async () => {
    const { ducks, asked, session, channel } = ducking();
    await ducks.listen();
    await ducks.listen();
    expect(asked).toHaveLength(1);
    session.apply({ kind: 'set_strips', strips: [channel('Kick')], change: { what: 'trim_db', to: -3 } });
    await ducks.listen();
    expect(asked).toHaveLength(2);
  });

  test('that failed can be asked for, and begins by itself for who comes back', async () => {
    const { ducks, asked } = ducking();
    await ducks.listen();
    expect(ducks.rests).toBe(true);
    ducks.again();
    expect(asked).toHaveLength(2);
    await Promise.resolve();
    ducks.leave();
    await ducks.listen();
    expect(asked).toHaveLength(3);
  });

  test.each([
    [4, 4],
    [32, 32],
    [400, 32],
  ])('of a loop of %i bars of a second is of %i', (bars, heard) => {
    const { ducks, board } = ducking();
    board.loop.length = bars;
    expect(ducks.bars).toBe(heard);
  });

  test('is of one bar at least, however long that is', () => {
    const { ducks, board } = ducking();
    board.frameOf = (bar) => bar * 96 * 48_000;
    expect(ducks.bars).toBe(1);
  });

  test('waits for a run of something else', async () => {
    const { ducks, asked, gauge } = ducking(() => nothing);
    gauge.part = 0.5;
    await ducks.listen();
    expect(asked).toEqual([]);
  });
});

describe('a new ducker', () => {
  test('is there at once on all rows, and then gets settings that fit what is heard', async () => {
    const { ducks, done, session, channel, board } = ducking(() =>
      solved({ settings: compressor({ threshold_dbfs: -33 }) }),
    );
    const asked = ducks.add([channel('Bass'), channel('Pad')], channel('Kick'));
    const ducker = session.doc.strips.find((s) => s.id === channel('Bass'))?.chain[0];
    expect([board.ducker, ducker?.settings]).toEqual([ducker?.id, compressor()]);
    expect(ducks.sets(ducker?.id ?? 0)).toBe(true);
    const made = await asked;
    expect(ducks.sets(ducker?.id ?? 0)).toBe(false);
    expect(done.map((e) => e.kind)).toEqual(['add_processor', 'batch']);
    const chains = ['Bass', 'Pad'].map(
      (name) => session.doc.strips.find((s) => s.id === channel(name))?.chain,
    );
    expect(chains.map((c) => c?.length)).toEqual([1, 1]);
    expect(chains[0]?.[0]).toMatchObject({
      settings: { threshold_dbfs: -33 },
      key: wholeKey(channel('Kick')),
    });
    expect([made, board.ducker]).toEqual([chains[0]?.[0]?.id, chains[0]?.[0]?.id]);
  });

  test('is heard by the id that it will have', async () => {
    const { ducks, asked, session, channel } = ducking(() => solved({}));
    const next = session.doc.next_id;
    const made = await ducks.add([channel('Bass')], channel('Kick'));
    expect(asked[0]).toMatchObject({ focus: next, goal: { goal: 'depth', db: 6 } });
    expect(made).toBe(next);
  });

  test('gets a release that is back in time where it was late', async () => {
    const { ducks, asked, session, channel } = ducking(({ goal }) =>
      goal?.goal === 'depth' ? solved({}, { late: 2 }) : solved({ settings: compressor({ release_ms: 31 }) }),
    );
    await ducks.add([channel('Bass')], channel('Kick'));
    expect(asked.map((a) => a.goal?.goal)).toEqual(['depth', 'recovery']);
    const bass = session.doc.strips.find((s) => s.id === channel('Bass'));
    expect(bass?.chain[0]?.settings).toMatchObject({ release_ms: 31 });
  });

  test('has plain settings where its key is silent', async () => {
    const { ducks, session, channel } = ducking(() => solved({}, { depth_db: 0, recovery_ms: null }));
    await ducks.add([channel('Bass')], channel('Kick'));
    const bass = session.doc.strips.find((s) => s.id === channel('Bass'));
    expect(bass?.chain[0]?.settings).toEqual(compressor());
  });

  test('that would be refused is refused at once, and nothing is heard for it', async () => {
    const { ducks, asked, done, channel } = ducking(() => solved({}), 'this would be a loop');
    expect(await ducks.add([channel('Bass')], channel('Kick'))).toBeUndefined();
    expect([asked, done.length]).toEqual([[], 1]);
  });
});

describe('called off', () => {
  test('a new ducker stays as it begins, and that is said', async () => {
    const { ducks, done, told, channel } = ducking();
    expect(await ducks.add([channel('Bass')], channel('Kick'))).toBeDefined();
    expect(done.map((e) => e.kind)).toEqual(['add_processor']);
    expect(told).toEqual([expect.stringContaining('Left as it begins')]);
  });

  test('what is being set is not, where nobody looks any more', async () => {
    const { ducks, gauge, channel } = ducking(() => solved({}));
    const asked = ducks.add([channel('Bass')], channel('Kick'));
    ducks.leave();
    expect(gauge.cancelled).toBe(0);
    await asked;
  });

  test('by somebody who leaves, hearing begins again when they come back', async () => {
    let end: (found: Ducked | undefined) => void = () => undefined;
    const { ducks, gauge, asked } = ducking();
    gauge.ask = (_, { focus }) => {
      asked.push({ focus: focus ?? 0, edits: [], room: false });
      return new Promise((resolve) => (end = resolve));
    };
    const first = ducks.listen();
    ducks.leave();
    end(undefined);
    await first;
    expect(gauge.cancelled).toBe(1);
    void ducks.listen();
    expect(asked).toHaveLength(2);
  });

  test('nothing is where nothing is under way', () => {
    const { ducks, gauge } = ducking();
    ducks.leave();
    expect(gauge.cancelled).toBe(0);
  });
});

test('two presses make one ducker', async () => {
  const { ducks, done, channel } = ducking(() => solved({ settings: compressor({ ratio: 3 }) }));
  await Promise.all([1, 2].map(() => ducks.add([channel('Bass')], channel('Kick'))));
  expect(done.map((e) => e.kind)).toEqual(['add_processor', 'set_processor']);
});

test('two presses in two rows make two, the second is looked at and set after the first', async () => {
  const { ducks, asked, board, channel } = ducking(() => solved({}));
  const [bass, pad] = ['Bass', 'Pad'].map((name) => ducks.add([channel(name)], channel('Kick')));
  const looked = board.ducker;
  expect(await pad).toBe(looked);
  expect(asked.map((a) => a.focus)).toEqual([await bass, await pad]);
});

test('a ducker that gets another id while it is being set is set under that', async () => {
  let times = 0;
  const all = ducking(() => {
    times += 1;
    if (times > 1) return solved({ settings: compressor({ ratio: 9 }) });
    // Another tab made something first, so what was made here counts on from there.
    const [strip, key] = [all.channel('Bass'), wholeKey(all.channel('Kick'))];
    const [was] = chain();
    all.session.apply({ kind: 'remove_processors', strip, processors: [was?.id ?? 0] });
    all.session.apply({ kind: 'add_processor', strips: [strip], settings: compressor(), key, at: null });
    all.ducks.renamed(new Map([[was?.id ?? 0, chain()[0]?.id ?? 0]]));
    return solved({});
  });
  const chain = () => all.session.doc.strips.flatMap((s) => s.chain);
  const made = await all.ducks.add([all.channel('Bass')], all.channel('Kick'));
  expect([all.told, made]).toEqual([[], chain()[0]?.id]);
  expect([chain()[0]?.settings, all.board.ducker]).toMatchObject([{ ratio: 9 }, made]);
});

describe('a goal', () => {
  const reached = async (goal: Goal, answer: Ducked | undefined) => {
    const all = ducking(() => answer);
    all.session.apply({
      kind: 'add_processor',
      strips: [all.channel('Bass')],
      settings: compressor(),
      key: wholeKey(all.channel('Kick')),
      at: null,
    });
    all.done.length = 0;
    const processor = all.session.doc.strips.find((s) => s.id === all.channel('Bass'))?.chain[0]?.id ?? 0;
    await all.ducks.reach(processor, goal);
    return all;
  };

  test('that is reached is one edit and no words', async () => {
    const { done, told } = await reached({ goal: 'depth', db: 6 }, solved({}));
    expect([done.length, told]).toEqual([1, []]);
  });

  test('of depth that is only neared is set, and said', async () => {
    const short = '4.0 dB is as near as it gets to 9.0: a louder key would go further';
    const { done, told } = await reached({ goal: 'depth', db: 9 }, solved({ short }));
    expect([done.length, told]).toEqual([1, [`${short}.`]]);
  });

  test('of depth under a key that is silent changes nothing, and that is said', async () => {
    const { done, told } = await reached({ goal: 'depth', db: 9 }, solved({}, { depth_db: 0 }));
    expect([done, told]).toEqual([[], [expect.stringContaining('key silent')]]);
  });

  test('of recovery that cannot be had changes nothing, and that is said', async () => {
    const { done, told } = await reached({ goal: 'recovery' }, solved({ short: 'even so' }));
    expect([done, told]).toEqual([[], ['Even so.']]);
  });

  test('that no value decides is said', async () => {
    const none = { duckers: [], waves: [], solved: null, pair: null, room: null };
    const { done, told } = await reached({ goal: 'depth', db: 6 }, none);
    expect([done, told]).toEqual([[], [expect.stringContaining('nothing in it moves')]]);
  });

  /** A ducker whose depth is looked for while something else is edited, the first time. */
  const meanwhile = async (edit: (all: ReturnType<typeof ducking>) => Edit) => {
    let times = 0;
    const all = ducked(() => {
      times += 1;
      if (times === 1) all.session.apply(edit(all));
      return solved({ settings: compressor({ release_ms: 140, ratio: 9 }) });
    });
    await all.ducks.reach(all.processor().id, { goal: 'depth', db: 6 });
    return all;
  };

  test('holds on while what it is not heard with changes', async () => {
    const fader = { what: 'fader_db', to: -6 } as const;
    const all = await meanwhile((t) => ({ kind: 'set_strips', strips: [t.channel('Pad')], change: fader }));
    expect([all.asked.length, all.told]).toEqual([1, []]);
    expect(all.processor().settings).toMatchObject({ ratio: 9 });
  });

  test('is looked for anew where what it is heard with changes', async () => {
    const trim = { what: 'trim_db', to: -6 } as const;
    const all = await meanwhile((t) => ({ kind: 'set_strips', strips: [t.channel('Kick')], change: trim }));
    expect([all.asked.length, all.told]).toEqual([2, []]);
    expect(all.processor().settings).toMatchObject({ ratio: 9 });
  });

  test('of a ducker that is gone is not set, and that is said', async () => {
    const { ducks, done, told } = ducking(() => solved({}));
    await ducks.reach(99, { goal: 'depth', db: 6 });
    expect([done, told]).toEqual([[], ['Not set: that ducker is gone.']]);
  });

  test('and another at once are both had', async () => {
    const all = ducked(({ goal }) =>
      solved({
        settings: compressor(
          goal?.goal === 'depth' ? { release_ms: 140, ratio: 9 } : { release_ms: 60, ratio: 9 },
        ),
      }),
    );
    const { id } = all.processor();
    await Promise.all([
      all.ducks.reach(id, { goal: 'depth', db: 6 }),
      all.ducks.reach(id, { goal: 'recovery' }),
    ]);
    expect(all.asked.map((a) => a.goal?.goal)).toEqual(['depth', 'recovery']);
    expect(all.processor().settings).toMatchObject({ ratio: 9, release_ms: 60 });
  });

  test('that was called off changes nothing', async () => {
    const { done, told } = await reached({ goal: 'recovery' }, undefined);
    expect([done, told]).toEqual([[], []]);
  });
});

/** A session whose bass has a compressor that the kick ducks by; asked of every run, whatever it is. */
function ducked(answer: (asked: Asked) => Ducked | undefined) {
  const all = ducking(answer);
  const strip = all.channel('Bass');
  all.session.apply({
    kind: 'add_processor',
    strips: [strip],
    settings: compressor({ release_ms: 140 }),
    key: wholeKey(all.channel('Kick')),
    at: null,
  });
  all.done.length = 0;
  const processor = () => {
    const found = all.session.doc.strips.find((s) => s.id === strip)?.chain[0];
    if (!found) throw new Error('it is there');
    return found;
  };
  return { ...all, strip, processor };
}

describe('on the beat', () => {
  test('a shape is put on every row that is meant, and looked at, without hearing anything', async () => {
    const { ducks, done, asked, board, channel, session } = ducking();
    await ducks.add([channel('Bass'), channel('Pad')], BEAT);
    expect(asked).toHaveLength(0);
    expect(done).toHaveLength(1);
    const made = session.doc.strips.flatMap((s) => s.chain);
    expect(made.map((p) => [p.settings.kind, p.key])).toEqual([
      ['beat_shape', null],
      ['beat_shape', null],
    ]);
    expect(board.ducker).toBe(made[0]?.id);
  });
});

describe('another kind', () => {
  test('is one step, as deep as it was, and back it is what it was', async () => {
    const { ducks, done, asked, processor } = ducked(({ goal, edits }) => {
      const [edit] = edits;
      const to =
        edit?.kind === 'set_processor' && edit.change.what === 'settings' ? edit.change.to : undefined;
      return goal && to ? solved({ settings: to }) : undefined;
    });
    const before = processor();
    await ducks.become(before.id, 'gate');
    expect(done).toHaveLength(1);
    expect(asked.at(-1)).toMatchObject({ focus: before.id, goal: { goal: 'depth', db: 6 } });
    expect(processor()).toMatchObject({ key: before.key, settings: { kind: 'gate', release_ms: 140 } });
    await ducks.become(processor().id, 'whole');
    expect(done).toHaveLength(2);
    expect(processor()).toEqual(before);
    expect(asked).toHaveLength(1);
  });

  test('that nothing was heard of begins as such a kind begins', async () => {
    const { ducks, processor } = ducked(() => undefined);
    await ducks.become(processor().id, 'shape');
    expect(processor().settings).toMatchObject({ kind: 'beat_shape', depth_db: 6 });
    await ducks.become(processor().id, 'shape');
    expect(processor().settings.kind).toBe('beat_shape');
  });
});

describe('the one that is looked at', () => {
  const waves = (loud: number[]): DuckerWaves => ({
    key: [1],
    before: loud,
    behind: loud,
    reduction_db: [3],
  });
  const pair = { lost_db: 1 } as PairFigures;
  const heard = (processor: number, loud: number[]): Ducked => ({
    duckers: [{ strip: 1, processor, figures: FIGURES, keyed: true, sounds: true }],
    waves: [waves(loud)],
    solved: null,
    pair,
    room: null,
  });

  test('is heard with what it works on, and is seen on when another is looked at', async () => {
    const { ducks, asked } = ducking(({ focus }) => heard(7, focus === 7 ? [0.5] : []));
    ducks.focus = 7;
    await ducks.listen();
    expect(asked.map((a) => a.focus)).toEqual([7]);
    expect([ducks.whole, ducks.pairOf(7), ducks.pairOf(8)]).toEqual([true, pair, undefined]);
    ducks.focus = 8;
    expect([ducks.fresh, ducks.whole]).toEqual([true, false]);
    await ducks.listen();
    expect(asked.map((a) => a.focus)).toEqual([7, 8]);
    expect(ducks.wavesOf(7)?.before).toEqual([0.5]);
    await ducks.listen();
    expect(asked).toHaveLength(2);
  });
});

describe('room', () => {
  const room = (change: Partial<Room> = {}): Room => ({
    overlap_percent: 40,
    first: null,
    proposal: {
      settings: compressor({ threshold_dbfs: -33 }),
      depth_db: 4,
      band_hz: null,
      recovery_ms: 12,
      figures: { lost_db: 1 } as PairFigures,
    },
    short: null,
    ...change,
  });
  const found = (change: Partial<Room> = {}): Ducked => ({
    duckers: [],
    waves: [],
    solved: null,
    pair: null,
    room: room(change),
  });

  test('is looked for with a ducker that takes nothing away, which nobody has', async () => {
    const { ducks, asked, done, channel } = ducking(() => found());
    await ducks.lookForRoom(channel('Kick'), channel('Bass'));
    expect(done).toEqual([]);
    expect(asked).toHaveLength(1);
    expect(asked[0]).toMatchObject({
      room: true,
      edits: [{ kind: 'add_processor', settings: { ratio: 1 } }],
    });
    expect(ducks.room).toMatchObject({ key: channel('Kick'), target: channel('Bass') });
  });

  test('is taken over as one step, and looked at', async () => {
    const { ducks, done, board, channel, session } = ducking(() => found());
    await ducks.lookForRoom(channel('Kick'), channel('Bass'));
    await ducks.takeRoom();
    expect(done).toHaveLength(1);
    const made = session.doc.strips.flatMap((s) => s.chain);
    expect(made).toHaveLength(1);
    expect(made[0]).toMatchObject({ key: { source: channel('Kick') }, settings: { threshold_dbfs: -33 } });
    expect([board.ducker, ducks.room]).toEqual([made[0]?.id, undefined]);
  });

  test.each([
    [{ way: 'polarity', gain_db: 6 } as const, { polarity: 'both' }],
    [{ way: 'delay', frames: 96, gain_db: 3 } as const, { delay_frames: 96 }],
  ])('is not needed where %o does', async (first, set) => {
    const { ducks, channel, session } = ducking(() => found({ first }));
    await ducks.lookForRoom(channel('Kick'), channel('Bass'));
    await ducks.takeFirst();
    expect(session.doc.strips.flatMap((s) => s.chain)).toMatchObject([
      { key: null, settings: { kind: 'stereo_image', ...set } },
    ]);
  });

  test('that is of a session that was another is not taken over, and that is said', async () => {
    for (const take of ['takeRoom', 'takeFirst'] as const) {
      const { ducks, done, told, channel, session } = ducking(() =>
        found({ first: { way: 'polarity', gain_db: 6 } }),
      );
      await ducks.lookForRoom(channel('Kick'), channel('Bass'));
      // Heard and let go, it is the same session.
      const [bass, pad] = [channel('Bass'), channel('Pad')];
      const fader = (strips: number[], to: number): Edit => ({
        kind: 'set_strips',
        strips,
        change: { what: 'fader_db', to },
      });
      session.apply(fader([pad], -3));
      session.apply(fader([pad], 0));
      session.apply({ kind: 'set_header', header: { ...session.header, title: 'Another' } });
      expect(ducks.room).toBeDefined();
      session.apply(fader([bass], -3));
      const before = done.length;
      await ducks[take]();
      expect([done.length - before, told.length, ducks.room]).toEqual([0, 1, undefined]);
    }
  });

  test('that is none changes nothing, and what is refused says why', async () => {
    const none = ducking(() => found({ proposal: null, short: 'they share next to nothing' }));
    await none.ducks.lookForRoom(none.channel('Kick'), none.channel('Bass'));
    expect(none.ducks.room?.room.short).toContain('next to nothing');
    await none.ducks.takeRoom();
    expect(none.done).toEqual([]);
    const refused = ducking(() => found(), 'it would listen to itself');
    await refused.ducks.lookForRoom(refused.channel('Kick'), refused.channel('Bass'));
    expect([refused.asked, refused.ducks.room]).toEqual([[], undefined]);
  });
});

describe('a copied ducker', () => {
  const start = () => {
    const all = ducking();
    all.session.apply({
      kind: 'add_processor',
      strips: [all.channel('Bass')],
      settings: compressor({ ratio: 7 }),
      key: wholeKey(all.channel('Kick')),
      at: null,
    });
    all.done.length = 0;
    const chain = (name: string) =>
      all.session.doc.strips.find((s) => s.id === all.channel(name))?.chain ?? [];
    return { ...all, chain, id: chain('Bass')[0]?.id ?? 0 };
  };

  test('stands in other rows in one step, and not twice', () => {
    const { ducks, done, chain, channel, id } = start();
    ducks.copy(id, ['Bass', 'Pad', 'Kick'].map(channel));
    ducks.copy(id, [channel('Pad')]);
    expect(done).toHaveLength(1);
    expect(chain('Pad').map((p) => p.settings)).toEqual([expect.objectContaining({ ratio: 7 })]);
    expect([chain('Kick').length, chain('Bass').length]).toEqual([0, 1]);
    expect(chain('Pad')[0]?.key?.source).toBe(channel('Kick'));
  });

  test('goes by another key where it is put under that', () => {
    const { ducks, chain, channel, id, session } = start();
    ducks.copy(id, [channel('Kick')], channel('Pad'));
    expect(chain('Kick')[0]?.key).toEqual(wholeKey(channel('Pad')));
    const [shape] = kinds.filter((k) => k.default.kind === 'beat_shape');
    session.apply({
      kind: 'add_processor',
      strips: [channel('Kick')],
      settings: shape?.default as never,
      key: wholeKey(channel('Pad')),
      at: null,
    });
    ducks.copy(chain('Kick')[1]?.id ?? 0, [channel('Pad')], BEAT);
    expect(chain('Pad')[0]).toMatchObject({ key: null, settings: { kind: 'beat_shape' } });
  });

  test('that is gone is not copied, and that is said', () => {
    const { ducks, done, told, channel } = start();
    ducks.copy(999, [channel('Pad')]);
    expect([done.length, told.length]).toEqual([0, 1]);
  });

  test('is not put where it would listen to itself, to the beat, or stand twice, and that is said', () => {
    const { ducks, done, told, channel, id } = start();
    ducks.copy(id, [channel('Pad')], BEAT);
    ducks.copy(id, [channel('Bass'), channel('Kick')]);
    expect([done.length, told]).toEqual([
      0,
      [expect.stringContaining('the beat'), expect.stringContaining('already')],
    ]);
  });
});

describe('what was heard', () => {
  const heard = async (change: Partial<DuckFigures>, also: { keyed?: boolean; sounds?: boolean } = {}) => {
    let [strip, processor] = [0, 0];
    const figures = { ...FIGURES, ...change };
    const all = ducking(() => ({
      duckers: [{ strip, processor, figures, keyed: true, sounds: true, ...also }],
      waves: [],
      solved: null,
      pair: null,
      room: null,
    }));
    strip = all.channel('Bass');
    all.session.apply({
      kind: 'add_processor',
      strips: [strip],
      settings: compressor(),
      key: wholeKey(all.channel('Kick')),
      at: null,
    });
    processor = all.session.doc.strips.find((s) => s.id === strip)?.chain[0]?.id ?? 0;
    await all.ducks.listen();
    return (all.board as unknown as BoardState).heard.duck?.checks ?? [];
  };

  test('of a ducker that never acts and one that is never back is worth a look, with a way out', async () => {
    const [never] = await heard({ depth_db: 0 });
    expect(never?.sentence).toContain('does nothing in the loop');
    const [stuck] = await heard({ depth_db: 9, stuck: true });
    expect(stuck?.sentence).toContain('is never back');
    expect(stuck?.repair?.edit).toMatchObject({ kind: 'set_processor', change: { what: 'on', to: false } });
    expect(never?.key).not.toBe(stuck?.key);
  });

  test('of one that works, or has nothing to hear or to duck, is no matter', async () => {
    expect(await heard({})).toEqual([]);
    expect(await heard({ depth_db: 0 }, { keyed: false })).toEqual([]);
    expect(await heard({ depth_db: 0 }, { sounds: false })).toEqual([]);
  });
});
