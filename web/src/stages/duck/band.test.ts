import { describe, expect, test } from 'vitest';
import type { Settings } from '$lib/api/types';
import { dice, onDesk } from '$testing/on-desk';
import { bandOf, gripHz, gripsOf, withBand, withGrip } from './band';

const bell = (freq_hz: number, q: number, shape = 'bell') =>
  ({ kind: 'equaliser', bands: [{ range_db: -6, freq_hz, q, shape }] }) as unknown as Settings;
const plain = onDesk().kinds.find((k) => k.default.kind === 'beat_shape')?.default as Settings;
const shape = (band: string, corner_hz = 200, q = 1) => ({ ...plain, band, corner_hz, q }) as Settings;

describe('grips of a band', () => {
  test('are both ends and the middle of a bell, the corner of a shelf, none of the whole sound', () => {
    expect(gripsOf(bell(100, 1))).toEqual(['low', 'middle', 'high']);
    expect(gripsOf(bell(100, 1, 'low_shelf'))).toEqual(['high']);
    expect(gripsOf(bell(100, 1, 'high_shelf'))).toEqual(['low']);
    expect(gripsOf(shape('around'))).toEqual(['low', 'middle', 'high']);
    expect([gripsOf(shape('low')), gripsOf(shape('high'))]).toEqual([['high'], ['low']]);
    expect(gripsOf(shape('whole'))).toEqual([]);
  });

  test('stand where they were put, as far as a band can be so wide', () => {
    const roll = dice(3);
    for (let n = 0; n < 200; n += 1) {
      const settings =
        n % 2 ? bell(100 + roll(3000), 0.5 + roll(30) / 10) : shape('around', 100 + roll(3000));
      const middle = gripHz(settings, 'middle');
      for (const grip of ['low', 'high'] as const) {
        const to = middle * 2 ** ((grip === 'low' ? -1 : 1) * (0.25 + roll(100) / 100));
        const made = withGrip(settings, grip, to);
        expect(gripHz(made, 'middle')).toBe(middle);
        // Q is kept to a hundredth, and goes no further than it does.
        expect(Math.abs(Math.log2(gripHz(made, grip) / to))).toBeLessThan(0.02);
      }
      const moved = withGrip(settings, 'middle', 440);
      expect(gripHz(moved, 'middle')).toBe(440);
    }
  });

  test('do not leave what can be heard, and an end does not pass the middle', () => {
    expect(gripHz(withGrip(bell(100, 1), 'middle', 5), 'middle')).toBe(20);
    expect(gripHz(withGrip(bell(100, 1), 'middle', 90_000), 'middle')).toBe(20_000);
    const [low = 0, high = 0] = bandOf(withGrip(bell(100, 1), 'high', 30)) ?? [];
    expect(low).toBeLessThan(100);
    expect(high).toBeGreaterThan(100);
    expect(withGrip(shape('whole'), 'middle', 100)).toEqual(shape('whole'));
  });
});

test.each([
  [bell(1000, 1), [62, 250]],
  [shape('around'), [125, 315]],
  [bell(1000, 1, 'low_shelf'), [20, 250]],
  [bell(1000, 1, 'high_shelf'), [62, 20_000]],
] as const)('a band that is proposed is taken over: %#', (settings, expected) => {
  const [low = 0, high = 0] = bandOf(withBand(settings, [62, 250])) ?? [];
  if (settings.kind === 'beat_shape') {
    const [from = 0, to = 0] = bandOf(withBand(settings, [125, 315])) ?? [];
    expect(from / expected[0]).toBeCloseTo(1, 1);
    expect(to / expected[1]).toBeCloseTo(1, 1);
  } else {
    expect(low / expected[0]).toBeCloseTo(1, 1);
    expect(high / expected[1]).toBeCloseTo(1, 1);
  }
});
