import { expect, test } from 'vitest';
import { bytesText } from './bytes';

test.each([
  [0, '0 MiB'],
  [1000, 'under 1 MiB'],
  [2 ** 20, '1 MiB'],
  [1023.4 * 2 ** 20, '1023 MiB'],
  [1.5 * 2 ** 30, '1.5 GiB'],
])('%i bytes', (bytes, text) => expect(bytesText(bytes)).toBe(text));
