import { expect, test } from 'vitest';
import { barsAt, counted } from './counted';

test.each([
  [0, '0 rows'],
  [1, '1 row'],
  [2, '2 rows'],
])('%d is said as "%s"', (count, said) => {
  expect(counted(count, 'row')).toBe(said);
});

test('one bar is a bar', () => {
  expect([barsAt(0, 1), barsAt(2, 4)]).toEqual(['bar 1', 'bars 3 to 6']);
});

test('a plural of its own', () => {
  expect([counted(1, 'bus', 'buses'), counted(4, 'bus', 'buses')]).toEqual(['1 bus', '4 buses']);
});
