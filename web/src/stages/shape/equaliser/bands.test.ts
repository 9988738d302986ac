import { describe, expect, test } from 'vitest';
import type { Band, Param } from '$lib/api/types';
import { alone, movedTo, moves, stepped, withBand } from './bands';

const param = (name: string, min: number, max: number): Param => ({
  name,
  label: name,
  unit: '',
  min,
  max,
  default: min,
  scale: 'ratio',
});
const freq = param('freq_hz', 20, 20_000);
const gain = param('gain_db', -24, 24);
const bell: Band = {
  shape: 'bell',
  slope: '12',
  switch: 'on',
  freq_hz: 1000,
  gain_db: 3,
  q: 1,
  range_db: 0,
  threshold_dbfs: -24,
  attack_ms: 5,
  release_ms: 80,
  attack_in: 'ms',
  release_in: 'ms',
};

describe('bands of an equaliser', () => {
  test('a change meets one band', () => {
    const settings = { kind: 'equaliser' as const, bands: [bell, bell] };
    expect(withBand(settings, 1, { q: 4 }).bands.map((b) => b.q)).toEqual([1, 4]);
  });

  test('a handle is held within what is allowed, and rounded', () => {
    expect(movedTo(bell, freq, gain, 5, 99)).toEqual({ freq_hz: 20, gain_db: 24 });
    expect(movedTo(bell, freq, gain, 123.456, -1.234)).toEqual({ freq_hz: 123.5, gain_db: -1.2 });
  });

  test('what has no gain moves along frequencies alone', () => {
    const pass = { ...bell, shape: 'high_pass' as const, gain_db: 0 };
    expect(movedTo(pass, freq, gain, 100, 12)).toEqual({ freq_hz: 100, gain_db: 0 });
    expect(stepped(pass, freq, gain, 'ArrowUp', false)).toEqual({});
  });

  test.each([
    ['ArrowRight', false, { freq_hz: 1030 }],
    ['ArrowLeft', true, { freq_hz: 995 }],
    ['ArrowUp', false, { gain_db: 3.5 }],
    ['ArrowDown', true, { gain_db: 2.9 }],
    ['Enter', false, undefined],
  ])('%s (fine: %s)', (key, fine, change) => {
    expect(stepped(bell, freq, gain, key, fine)).toEqual(change);
  });

  test('only what bends can be moved by a level', () => {
    expect(moves({ ...bell, range_db: -6 })).toBe(true);
    expect(moves({ ...bell, range_db: -6, shape: 'low_pass' })).toBe(false);
  });

  test.each([
    [
      'bell',
      [
        ['high_pass', 615.6],
        ['low_pass', 1624.5],
      ],
    ],
    ['low_shelf', [['low_pass', 1000]]],
    ['high_pass', [['low_pass', 1000]]],
    ['high_shelf', [['high_pass', 1000]]],
  ] as const)('a %s alone is what it is about', (shape, expected) => {
    const bands = alone({ ...bell, shape }, bell, freq).bands;
    expect(bands.map((b) => [b.shape, Math.round(b.freq_hz * 10) / 10])).toEqual(expected);
    expect(bands.every((b) => b.slope === '24')).toBe(true);
  });
});
