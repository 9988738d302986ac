import { expect, test } from 'vitest';
import { counted } from './counted';

test.each([
  [0, '0 rows'],
  [1, '1 row'],
  [2, '2 rows'],
])('%d is said as "%s"', (count, said) => {
  expect(counted(count, 'row')).toBe(said);
});

test('a plural of its own', () => {
  expect([counted(1, 'bus', 'buses'), counted(4, 'bus', 'buses')]).toEqual(['1 bus', '4 buses']);
});
