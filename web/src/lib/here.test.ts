import { afterEach, expect, test, vi } from 'vitest';
import { keepHere, keptHere } from './here';

afterEach(() => vi.unstubAllGlobals());
const browser = (setItem: (key: string, value: string) => void, kept = new Map<string, string>()) =>
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem,
    removeItem: (key: string) => kept.delete(key),
  });

test('what is kept comes back, and what is nothing is forgotten', () => {
  const kept = new Map<string, string>();
  browser((key, value) => kept.set(key, value), kept);
  keepHere('a', { loop: [1, 2] });
  expect(keptHere('a')).toEqual({ loop: [1, 2] });
  keepHere('a', undefined);
  expect([keptHere('a'), kept.size]).toEqual([undefined, 0]);
});

test('a text from before is a text', () => {
  browser(() => undefined, new Map([['trims', 'off']]));
  expect(keptHere('trims')).toBe('off');
});

test('a browser that is full, or keeps nothing at all, stops nobody', () => {
  browser(() => {
    throw new Error('QuotaExceededError');
  });
  expect(() => keepHere('a', 1)).not.toThrow();
  vi.stubGlobal('localStorage', undefined);
  expect(() => keepHere('a', 1)).not.toThrow();
  expect(keptHere('a')).toBeUndefined();
});
