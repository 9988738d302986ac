import { expect, test } from 'vitest';
import { level } from './targets';

test.each([
  [-12.34, '-12.3'],
  [0, '0.0'],
  [-0.04, '0.0'],
  [-0.06, '-0.1'],
  [6, '6.0'],
  [null, '–'],
  [undefined, '–'],
])('a level of %s is written %s', (db, text) => {
  expect(level(db)).toBe(text);
});
