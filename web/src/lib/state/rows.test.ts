import { describe, expect, test } from 'vitest';
import type { Session, Strip, Voice } from '$lib/api/types';
import { EMPTY } from '$lib/sync/model';
import { byRank, chosenBy, keepSame, linesOf, movesTo, nextTo, rowsOf, sameRow, type Row } from './rows';
import { steady } from './steady.svelte';

const main = EMPTY.strips[0] as Strip;
const channel = (id: number): Strip => ({ ...main, id, kind: 'channel', name: '', output: 2 });
const voice = (id: number, name: string, family: Voice['family'], on: number): Voice => ({
  id,
  name,
  family,
  source: { kind: 'empty' },
  channel: on,
  choke_set: null,
  swing: null,
  late_ms: 0,
  follows: null,
});
/** A kick and a click on one channel, a hat on its own. */
const doc: Session = {
  ...EMPTY,
  strips: [channel(20), channel(21), ...EMPTY.strips],
  voices: [voice(30, 'Kick', 'low', 20), voice(31, 'Click', 'low', 20), voice(32, 'Hat', 'hats', 21)],
};
const names = (rows: Row[]) => rows.map((r) => r.name);

describe('rows', () => {
  test('lanes come first, then buses and main, and say with whom they share', () => {
    const rows = rowsOf(doc);
    expect(names(rows)).toEqual(['Kick', 'Click', 'Hat', 'Mix bus', 'Main']);
    expect(rows.map((r) => r.shares)).toEqual([['Click'], ['Kick'], [], [], []]);
  });

  test('rows that stay the same keep their lines', () => {
    const rows = rowsOf(doc);
    const changed = rows.map((r, n) => (n === 1 ? { ...r } : r));
    const [before, after] = [rows, changed].map((r) => linesOf(r, '', undefined));
    expect(after?.map((line, n) => line === before?.[n])).toEqual(rows.map((_, n) => n !== 1));
  });

  const row = rowsOf(EMPTY)[1] as Row;
  test('one that shows the same is the same', () => {
    expect(sameRow(row, { ...row, shares: [] })).toBe(true);
  });

  test.each<[string, Partial<Row>]>([
    ['another strip', { strip: { ...row.strip } }],
    ['another name', { name: 'Sum' }],
    ['another voice on its channel', { shares: ['Kick'] }],
  ])('%s makes it another', (_, change) => {
    expect(sameRow(row, { ...row, ...change })).toBe(false);
  });

  test('only rows that show something else are new objects', () => {
    const before = rowsOf(doc);
    const louder = { ...channel(21), fader_db: -6 };
    const after = rowsOf({ ...doc, strips: doc.strips.map((s) => (s.id === 21 ? louder : s)) });
    const kept = keepSame(new Map(before.map((r) => [r.key, r])), after);
    expect(kept.map((r, n) => r === before[n])).toEqual([true, true, false, true, true]);
  });
});

describe('lines', () => {
  const rows = rowsOf(doc);
  const shown = (filter: string, folded: Parameters<typeof linesOf>[2]) =>
    linesOf(rows, filter, folded).map((l) => l.row?.name ?? l.fold?.family);

  test('unfolded, every row is a line', () => {
    expect(shown('', undefined)).toEqual(['Kick', 'Click', 'Hat', 'Mix bus', 'Main']);
  });

  test('folded, families have heads, and those that are open their lanes', () => {
    expect(shown('', ['low'])).toEqual(['low', 'Kick', 'Click', 'hats', 'Mix bus', 'Main']);
  });

  test('a filter finds rows in folded families too', () => {
    expect(shown('cK', [])).toEqual(['Kick', 'Click']);
  });
});

describe('choosing', () => {
  const shown = ['a', 'b', 'c', 'd'];
  const [none, ctrl, shift] = [undefined, 'ctrlKey', 'shiftKey'].map((key) => ({
    shiftKey: key === 'shiftKey',
    ctrlKey: key === 'ctrlKey',
    metaKey: false,
  }));

  test.each([
    ['one alone', ['a', 'b'], 'c', none, ['c']],
    ['one more', ['a'], 'c', ctrl, ['a', 'c']],
    ['one less', ['a', 'c'], 'a', ctrl, ['c']],
    ['never none', ['a'], 'a', ctrl, ['a']],
    ['down to one', ['b'], 'd', shift, ['b', 'c', 'd']],
    ['up to one', ['c'], 'a', shift, ['c', 'b', 'a']],
  ])('%s', (_, before, key, held, after) => {
    expect(chosenBy(before, shown, key, held)).toEqual(after);
  });
});

describe('steady lists', () => {
  const [a, b] = [{ id: 1 }, { id: 2 }];

  test('the same things in the same order are the same list', () => {
    const last = [a, b];
    expect(steady(last, [a, b])).toBe(last);
  });

  test.each([
    ['another order', [b, a]],
    ['one less', [a]],
    ['one like it', [a, { id: 2 }]],
  ])('%s makes it another', (_, now) => {
    expect(steady([a, b], now)).toBe(now);
  });
});

describe('several moved together', () => {
  const order = ['a', 'b', 'c', 'd', 'e'];
  /** The list after the moves, as the core makes them. */
  const after = (moves: { what: string; to: number }[]) => {
    const now = [...order];
    for (const { what, to } of moves) {
      now.splice(now.indexOf(what), 1);
      now.splice(to, 0, what);
    }
    return now.join('');
  };

  test.each([
    [['d'], 'b', 'adbce'],
    [['a'], 'c', 'bcade'],
    [['a', 'c'], 'e', 'bdeac'],
    [['e', 'c'], 'a', 'ceabd'],
    [['b', 'd'], 'd', 'acbde'],
    [['a', 'b', 'c', 'd', 'e'], 'c', 'abcde'],
  ])('%j to %s', (chosen, to, wanted) => {
    expect(after(movesTo(order, chosen, to))).toBe(wanted);
  });

  test.each([
    [['b', 'c'], -1, 'a'],
    [['b', 'd'], 1, 'e'],
    [['a', 'c'], -1, undefined],
    [['e'], 1, undefined],
    [[], 1, undefined],
  ] as const)('next to %j by %i stands %s', (chosen, by, next) => {
    expect(nextTo(order, [...chosen], by)).toBe(next);
  });

  test('a step goes past what is not shown', () => {
    expect(after(movesTo(order, ['a'], nextTo(['a', 'd', 'e'], ['a'], 1) as string))).toBe('bcdae');
  });

  test('nothing moves to a place that is not there', () => {
    expect(movesTo(order, ['a'], 'x')).toEqual([]);
  });
});

test('rows by rank: the lowest first, those without one last, all else as it was', () => {
  const rows = [1, 2, 3, 4, 5].map((id) => ({ key: `${id}`, strip: channel(id) }) as Row);
  const ranks = new Map([
    [2, 5],
    [4, 0.2],
    [5, 5],
  ]);
  expect(byRank(rows, ranks).map((r) => r.strip.id)).toEqual([4, 2, 5, 1, 3]);
  expect(byRank(rows, new Map())).toEqual(rows);
});
