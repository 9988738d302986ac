import { describe, expect, test } from 'vitest';
import type { SideFigures } from '$lib/api/types';
import { bars, line, octaveName, rangeOf, type Drawn } from './pictures';

const drawn = (at: number, db: number[], offset = 0): Drawn => ({
  at,
  offset,
  figures: { octaves: { hz: db.map((_, n) => 1000 * 2 ** n), db } } as unknown as SideFigures,
});

describe('pictures of sides', () => {
  test('reach a little over the loudest and thirty dB down', () => {
    expect(rangeOf([-20, null, -14.2])).toEqual({ top: -9, foot: -39 });
    expect(rangeOf([null])).toEqual({ top: 0, foot: -30 });
  });

  test('draw loudness evenly over the width, broken where there is silence', () => {
    const range = { top: 0, foot: -30 };
    expect(line([0, -30, -60], range, 100, 60)).toBe('M0.0,0.0L50.0,60.0L100.0,60.0');
    expect(line([-15, null, -15], range, 100, 60)).toBe('M0.0,30.0M100.0,30.0');
    expect(line([-15], range, 100, 60)).toBe('M50.0,30.0');
    expect(line([], range, 100, 60)).toBe('');
  });

  test('stand octaves of all sides side by side, moved as they are heard', () => {
    const found = bars([drawn(0, [-10, -20]), drawn(1, [-10, -40], -5)], { top: 0, foot: -30 }, 100, 60);
    expect(found.map((b) => [b.at, b.db, b.height])).toEqual([
      [0, -10, 40],
      [0, -20, 20],
      [1, -15, 30],
      [1, -45, 0],
    ]);
    const [first, , second] = found;
    expect((second?.x ?? 0) - (first?.x ?? 0)).toBeGreaterThan(0);
    expect(found.every((b) => b.x >= 0 && b.x + b.width <= 100 && b.y + b.height === 60)).toBe(true);
    expect(bars([], { top: 0, foot: -30 }, 100, 60)).toEqual([]);
  });

  test('call octaves by their round names', () => {
    expect([31.25, 62.5, 125, 1000, 16_000].map(octaveName)).toEqual(['31', '63', '125', '1k', '16k']);
  });
});
