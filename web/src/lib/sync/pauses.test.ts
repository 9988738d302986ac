import { expect, test } from 'vitest';
import { Pauses } from './pauses';

test('pauses double up to 15 s, and begin anew', () => {
  const pauses = new Pauses();
  expect(Array.from({ length: 9 }, () => pauses.grow())).toEqual([
    250, 500, 1000, 2000, 4000, 8000, 15_000, 15_000, 15_000,
  ]);
  pauses.reset();
  expect(pauses.grow()).toBe(250);
});
