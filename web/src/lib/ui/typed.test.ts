import { expect, test } from 'vitest';
import { readTyped, spoken, willDo } from './typed';

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

test.each([
  ['-6.5', 'dB', '-6.5 dB'],
  ['100 %', '%', '100 %'],
  ['off', 'dB', 'off'],
  ['20 L', '%', '20 L'],
  ['C', '%', 'C'],
  ['3', '', '3'],
])('%s in %s is said as "%s"', (shown, unit, said) => {
  expect(spoken(shown, unit)).toBe(said);
});

test.each([
  ['-21', 'each by -21 dB; =-21 sets'],
  ['+3', 'each by +3 dB; =3 sets'],
  ['=-21', 'all to -21 dB'],
  ['4,5', 'all to 4.5 dB'],
  ['off', 'all off'],
  ['-', ''],
])('while several are chosen, %s says what it will do', (text, said) => {
  expect(willDo(text, -100, 'dB')).toBe(said);
});
