import { expect, test } from 'vitest';
import { geometry } from './painter';
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
