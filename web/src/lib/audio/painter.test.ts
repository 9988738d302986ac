import { expect, test } from 'vitest';
import { around, geometry } from './painter';
import { placeOf } from './meters.svelte';

const bars = { rms: 0.1, peak: 0.5, held: 0.5, over: false };

test('bars end where a flat scale from -60 to +6 dB says', () => {
  const found = geometry({ rms: 1e-3, peak: 1, held: 10 ** (6 / 20), over: true }, 660, placeOf);
  expect(found).toEqual({ rms: 0, peak: 600, held: 660, over: true });
});

test('a change of less than a pixel is no change', () => {
  const twice = [0.5, 0.5001].map((peak) => geometry({ ...bars, peak }, 100, placeOf));
  expect(twice[0]).toEqual(twice[1]);
});

test('silence has no held peak', () => {
  expect(geometry({ ...bars, held: 0 }, 100, placeOf).held).toBe(-1);
});

test('what is over the scale stays on it', () => {
  expect(geometry({ ...bars, peak: 100 }, 100, placeOf).peak).toBe(100);
});

const host = { x: 0, y: 0, width: 400, height: 300 };

test('a canvas covers its meters, in whole pixels', () => {
  const areas = [
    { x: 10.4, y: 20, width: 50, height: 9.5 },
    { x: 200, y: 60.2, width: 50, height: 9 },
  ];
  expect(around(areas, host)).toEqual({ x: 10, y: 20, width: 240, height: 50 });
});

test.each([
  ['no meter', []],
  ['a meter above', [{ x: 0, y: -20, width: 50, height: 12 }]],
  ['a meter of no width', [{ x: 20, y: 20, width: 0, height: 12 }]],
])('it covers nothing of %s', (_, areas) => {
  expect(around(areas, host)).toBeUndefined();
});

test('it ends where its part of the page does', () => {
  const areas = [
    { x: -5, y: -5, width: 50, height: 12 },
    { x: 380, y: 290, width: 50, height: 12 },
  ];
  expect(around(areas, host)).toEqual({ x: 0, y: 0, width: 400, height: 300 });
});
