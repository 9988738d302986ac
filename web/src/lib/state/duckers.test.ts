import { describe, expect, test } from 'vitest';
import { wholeKey } from '$testing/on-desk';
import type { Session } from '$lib/api/types';
import { duckersOf, keyed, keyName, plansHits, sourcesOf } from './duckers';

describe('a key of several strips', () => {
  const processor = (also: number[]) =>
    ({ key: wholeKey(...also), settings: { kind: 'compressor' } }) as never;

  test('hears each of them once, the first leads', () => {
    expect(keyed([3, 5, 3, 9])).toEqual({ source: 3, also: [5, 9, null] });
    expect(keyed([])).toEqual({ source: null, also: [null, null, null] });
    expect(sourcesOf(processor([3, 5]))).toEqual([3, 5]);
    expect(sourcesOf(processor([]))).toEqual([0]);
  });

  test('is called by all of them, and stands in the columns of all', () => {
    expect(keyName(processor([3, 5, 9]), (id) => `#${id}`)).toBe('#3, #5 and #9');
    const strip = { chain: [processor([3, 5])] } as never;
    expect([3, 5, 9].map((id) => duckersOf(strip, id, () => true).length)).toEqual([1, 1, 0]);
  });
});

test('hits are known of strips on which nothing but hits sounds', () => {
  const voice = (channel: number, kind: string) => ({ channel, source: { kind } });
  const doc = {
    voices: [
      voice(1, 'one_shot'),
      voice(1, 'one_shot'),
      voice(2, 'one_shot'),
      voice(2, 'recording'),
      voice(3, 'empty'),
    ],
  } as unknown as Session;
  expect([1, 2, 3, 4].map((id) => plansHits(doc, id))).toEqual([true, false, false, false]);
});
