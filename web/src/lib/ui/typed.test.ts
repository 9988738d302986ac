import { expect, test } from 'vitest';
import { readTyped } from './typed';

test.each([
  ['-10', false, { set: -10 }],
  ['-10', true, { by: -10 }],
  ['+3', true, { by: 3 }],
  ['+3', false, { set: 3 }],
  ['−2,5', true, { by: -2.5 }],
  ['=-10', true, { set: -10 }],
  [' 4 ', true, { set: 4 }],
  ['Off', true, { set: -100 }],
  ['', true, undefined],
  ['loud', false, undefined],
])('"%s" (several: %s)', (text, several, meant) => {
  expect(readTyped(text, -100, several)).toEqual(meant);
});
