import { describe, expect, test } from 'vitest';
import type { Difference } from '$lib/api/types';
import { KINDS, percent, shown, when } from './words';

const difference = (of: Partial<Difference>): Difference => ({
  key: `${JSON.stringify(of)}`,
  strip: 5,
  also: [],
  kind: 'levels',
  now: 'fader -6.5 dB',
  then: 'fader -5.0 dB',
  edit: { kind: 'remove_take', take: 1 },
  ...of,
});

describe('what is shown', () => {
  const own = difference({});
  const other = difference({ strip: 6 });
  const both = difference({ strip: 6, also: [5], kind: 'rows' });
  const song = difference({ strip: null, kind: 'song' });
  const gone = difference({ strip: 9, kind: 'rows' });
  const all = [song, own, other, both, gone];
  const here = new Set([5, 6]);

  test('is what a row has to do with, and the song', () => {
    expect(shown(all, 5, 'all', here)).toEqual([song, own, both, gone]);
    expect(shown(all, 6, 'all', here)).toEqual([song, other, both, gone]);
    expect(shown(all, undefined, 'all', here)).toEqual(all);
  });

  test('is of a kind where one is asked for', () => {
    expect(shown(all, undefined, 'levels', here)).toEqual([own, other]);
    expect(shown(all, 5, 'song', here)).toEqual([song]);
    expect(shown(all, 5, 'chain', here)).toEqual([]);
  });

  test('kinds are each named once', () => {
    expect(new Set(KINDS.map((k) => k.value)).size).toBe(KINDS.length);
  });
});

describe('when a snapshot was taken', () => {
  const now = new Date(2026, 10, 28, 14, 5);
  const at = (...of: [number, number, number, number, number]) => new Date(...of).toISOString();
  test.each([
    [at(2026, 10, 28, 9, 30), '09:30'],
    [at(2026, 10, 27, 22, 14), 'yesterday 22:14'],
    [at(2026, 10, 26, 22, 14), '26 Nov 22:14'],
  ])('%s is said shortly', (taken, text) => expect(when(taken, now)).toBe(text));
});

test('a likelihood is said as people read it', () => {
  expect([1, 0.5, 0.1, 0.0312, 0.00098, 0.0001].map(percent)).toEqual([
    '100 %',
    '50 %',
    '10 %',
    '3.1 %',
    '0.1 %',
    'under 0.1 %',
  ]);
});
