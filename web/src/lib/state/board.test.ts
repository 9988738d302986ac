import { describe, expect, test } from 'vitest';
import { EMPTY } from '$lib/sync/model';
import { sameRow, type Row } from './board.svelte';
import { steady } from './steady.svelte';

describe('rows', () => {
  const row: Row = {
    key: 's1',
    kind: 'main',
    name: 'Main',
    strip: EMPTY.strips[0] as Row['strip'],
    shares: [],
  };

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
