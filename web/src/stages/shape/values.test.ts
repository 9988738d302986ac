import { describe, expect, test } from 'vitest';
import type { KindInfo, Param, Settings } from '$lib/api/types';
import { ceilingOf, hasPictures, hzOfPlace, placeOfHz, shows } from './pictures';
import { asKind, digitsOf, isIdle, ruledByNote, stepOf, timeOf } from './values';

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

describe('another kind', () => {
  const kind = (
    word: string,
    params: Partial<Param>[],
    choices: KindInfo['choices'] = [],
    rest: object = {},
  ): KindInfo =>
    ({
      name: word,
      params: params.map(param),
      choices,
      default: {
        kind: word,
        ...Object.fromEntries(params.map((p) => [p.name, p.default ?? 0])),
        ...rest,
      },
    }) as unknown as KindInfo;
  const squash = kind(
    'squash',
    [
      { name: 'threshold_dbfs', label: 'Threshold', unit: 'dBFS', min: -80, max: 0, default: -18 },
      { name: 'attack_ms', label: 'Attack', unit: 'ms', max: 250, default: 10 },
      { name: 'ceiling_dbtp', label: 'Ceiling', unit: 'dBTP', min: -36, max: 0, default: -1 },
    ],
    [
      {
        name: 'detect',
        label: 'Detects',
        options: [
          ['peak', 'Peak'],
          ['rms', 'RMS'],
        ],
      },
    ],
    { detect: 'peak' },
  );
  const shut = kind(
    'shut',
    [
      { name: 'threshold_dbfs', label: 'Threshold', unit: 'dBFS', min: -40, max: 0, default: -36 },
      { name: 'attack_db', label: 'Attack', unit: 'dB', max: 24, default: 3 },
      { name: 'ceiling_dbfs', label: 'Ceiling', unit: 'dBFS', min: -36, max: 0, default: -6 },
      { name: 'hold_ms', label: 'Hold', unit: 'ms', max: 100, default: 30 },
    ],
    [
      {
        name: 'detect',
        label: 'Detects',
        options: [
          ['peak', 'Peak'],
          ['average', 'Average'],
        ],
      },
    ],
    { detect: 'average' },
  );
  const settings = (of: object) => of as unknown as Settings;

  test('keeps what means the same, within its range', () => {
    const from = settings({
      kind: 'squash',
      threshold_dbfs: -60,
      attack_ms: 5,
      ceiling_dbtp: -3,
      detect: 'peak',
    });
    expect(asKind(shut, from, squash)).toEqual({
      kind: 'shut',
      threshold_dbfs: -40,
      attack_db: 3,
      ceiling_dbfs: -3,
      hold_ms: 30,
      detect: 'peak',
    });
  });

  test('a choice that the other does not have begins anew', () => {
    const from = settings({
      kind: 'shut',
      threshold_dbfs: -12,
      attack_db: 9,
      ceiling_dbfs: -2,
      hold_ms: 1,
      detect: 'average',
    });
    expect(asKind(squash, from, shut)).toEqual({
      kind: 'squash',
      threshold_dbfs: -12,
      attack_ms: 10,
      ceiling_dbtp: -2,
      detect: 'peak',
    });
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

test.each([
  ['attack_ms', { attack_in: '1/64' }, true],
  ['attack_ms', { attack_in: 'ms', release_in: '1/8' }, false],
  ['release_ms', { release_in: '1/8' }, true],
  ['attack_ms', {}, false],
  ['q', { q_in: '1/8' }, false],
])('%s beside %j is ruled by a note: %s', (name, values, ruled) => {
  expect(ruledByNote(values, name)).toBe(ruled);
});

test.each([
  ['attack_in', 'attack_ms'],
  ['release_in', undefined],
  ['note', undefined],
])('%s counts %s', (choice, name) => {
  const params = [{ name: 'attack_ms' }, { name: 'note_ms' }] as never;
  expect(timeOf(params, choice)?.name).toBe(name);
});
