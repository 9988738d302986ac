import { describe, expect, test } from 'vitest';
import type { KindInfo, Param, Settings } from '$lib/api/types';
import { ceilingOf, hasPictures, hzOfPlace, placeOfHz, shows } from './pictures';
import { digitsOf, isIdle, stepOf } from './values';

const param = (change: Partial<Param>): Param => ({
  name: 'x',
  label: 'X',
  unit: 'dB',
  min: 0,
  max: 100,
  default: 0,
  scale: 'even',
  ...change,
});

describe('values of processors', () => {
  test.each([
    [param({ max: 48 }), 10, 0.5],
    [param({ max: 200 }), 10, 1],
    [param({ max: 500 }), 10, 5],
    [param({ max: 9600 }), 10, 50],
    [param({ max: 20, scale: 'ratio' }), 0.1, 0.05],
    [param({ max: 20_000, scale: 'ratio' }), 1000, 50],
  ])('a step suits the range (%#)', (of, value, step) => {
    expect(stepOf(of, value)).toBe(step);
  });

  test.each([
    ['Hz', 0],
    ['samples', 0],
    ['s', 2],
    ['Q', 2],
    ['dB', 1],
  ])('%s has %i digits', (unit, digits) => {
    expect(digitsOf(param({ unit }))).toBe(digits);
  });
});

describe('pictures', () => {
  const kind = (word: string, reduces: boolean) =>
    ({ default: { kind: word }, reduces }) as unknown as KindInfo;

  test('each kind has what can be seen of it', () => {
    expect(shows(kind('compressor', true))).toEqual({ transfer: true, hit: false, history: true });
    expect(shows(kind('limiter', true))).toEqual({ transfer: true, hit: true, history: false });
    expect(hasPictures(kind('reverb', false))).toBe(true);
    expect(hasPictures(kind('stereo_image', false))).toBe(false);
  });

  test('what limits has a ceiling', () => {
    expect(ceilingOf({ kind: 'clipper', ceiling_dbfs: -6, hardness_percent: 50 })).toBe(-6);
    expect(ceilingOf({ kind: 'saturation' } as Settings)).toBeUndefined();
  });

  test.each([20, 440, 20_000])('%i Hz stands where it is found again', (hz) => {
    expect(hzOfPlace(placeOfHz(hz))).toBeCloseTo(hz, 6);
  });
});

test.each([
  ['1/8', 'time_ms', true],
  ['free', 'time_ms', false],
  ['1/8', 'feedback_percent', false],
])('counted in %s, %s of a delay says nothing: %s', (note, name, idle) => {
  expect(isIdle({ kind: 'delay', note } as Settings, name)).toBe(idle);
});
