import { describe, expect, test } from 'vitest';
import type { PairBand, Settings } from '$lib/api/types';
import { onDesk } from '$testing/on-desk';
import { bandOf } from './band';
import { change, loudest, lufs, peaks, RANGE_DB, sharedBoxes, spectrumPath, xOfHz } from './spectra';

const band = (from_hz: number, to_hz: number, levels: [number, number, number], shared = 0): PairBand => ({
  from_hz,
  to_hz,
  key_dbfs: levels[0],
  target_dbfs: levels[1],
  ducked_dbfs: levels[2],
  shared_percent: shared,
});
const bands = [
  band(31.25, 62.5, [-20, -30, -34], 60),
  band(62.5, 125, [-26, -23, -29], 39),
  band(125, 250, [-60, -40, -40], 1),
];

describe('spectra', () => {
  test('stand on a scale by ratios from 20 Hz to 20 kHz', () => {
    expect(xOfHz(20, 300)).toBe(0);
    expect(xOfHz(20_000, 300)).toBe(300);
    expect(xOfHz(200, 300)).toBeCloseTo(100);
    expect(xOfHz(5, 300)).toBe(0);
  });

  test('are steps under the loudest of all, within the picture', () => {
    expect(loudest(bands)).toBe(-20);
    const path = spectrumPath(bands, (b) => b.key_dbfs, 300, 100);
    const heights = [...path.matchAll(/[ML]\S+ (\d+(?:\.\d+)?)/g)].map((m) => Number(m[1]));
    expect(heights.every((y) => y >= 0 && y <= 100)).toBe(true);
    // The loudest lies 3 dB under the top.
    expect(Math.min(...heights)).toBeCloseTo((3 / RANGE_DB) * 100, 0);
    expect(spectrumPath([], (b) => b.key_dbfs, 300, 100)).toBe('');
  });

  test('are shaded where something is shared', () => {
    const boxes = sharedBoxes(bands, 300);
    expect(boxes).toHaveLength(2);
    expect(boxes[0]?.part).toBe(1);
    expect(boxes[1]?.part).toBeCloseTo(0.65);
    expect(boxes[0]?.width).toBeCloseTo(xOfHz(62.5, 300) - xOfHz(31.25, 300));
  });

  test('changes are told once where there is none', () => {
    expect(change([61.4, 24.2], 0, '%')).toBe('61 to 24 %');
    expect(change([-6.02, -6.04], 1, 'dBFS')).toBe('-6.0 dBFS');
    expect(lufs(-150)).toBe('silence');
    expect([peaks([-150, -150]), peaks([-3, -4])]).toEqual(['silence', '-3.0 to -4.0 dBFS']);
    expect(lufs(-14.26)).toBe('-14.3 LUFS');
  });
});

describe('the band of a ducker', () => {
  const moving = (change: object) =>
    ({
      kind: 'equaliser',
      bands: [{ range_db: -6, freq_hz: 100, q: 1, shape: 'bell', ...change }],
    }) as unknown as Settings;

  test('is what a bell or shelf works on', () => {
    const [from, to] = bandOf(moving({})) ?? [0, 0];
    // About its middle, as wide as its quality says.
    expect(Math.sqrt(from * to)).toBeCloseTo(100);
    expect(100 / (to - from)).toBeCloseTo(1);
    expect(bandOf(moving({ shape: 'low_shelf' }))).toEqual([20, 100]);
    expect(bandOf(moving({ shape: 'high_shelf' }))).toEqual([100, 20_000]);
    expect(bandOf(moving({ range_db: 0 }))).toBeUndefined();
  });

  test('is none of the whole sound', () => {
    const shape = onDesk().kinds.find((k) => k.default.kind === 'beat_shape')?.default as Settings;
    expect(bandOf(shape)).toBeUndefined();
    expect(bandOf({ ...shape, band: 'low', corner_hz: 90 } as Settings)).toEqual([20, 90]);
    expect(bandOf({ ...shape, band: 'high', corner_hz: 90 } as Settings)).toEqual([90, 20_000]);
  });
});
