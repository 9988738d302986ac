import { describe, expect, test } from 'vitest';
import type { StationLevels, Strip, StripLevels } from '$lib/api/types';
import { onDesk } from '$testing/on-desk';
import { stationLines } from './stations';

describe('ready chains', () => {
  const desk = onDesk();

  test('are offered each at its place', () => {
    expect(desk.chainsFor('path').map((c) => c.name)).toContain('Press');
    expect(desk.chainsFor('bus', 'main').at(-1)?.text).toMatch(/^a whole chain/);
    expect(desk.chainsFor('bus').some((c) => c.name === 'Limiter')).toBe(false);
  });

  test('go into a chain as they are given', () => {
    for (const { processors } of desk.ready.chains)
      expect(() =>
        desk.apply({ kind: 'insert_processors', strips: [1], processors, at: null, replace: true }),
      ).not.toThrow();
  });
});

describe('stations of a strip', () => {
  const at = (
    station: StationLevels['station'],
    lufs: number | null,
    peak: number | null,
    rms: number | null,
  ) => ({ station, lufs, sample_peak_dbfs: peak, rms_dbfs: rms }) as StationLevels;
  const desk = onDesk();
  const whole = desk.chainsFor('main').at(-1)?.processors ?? [];
  const chain = whole.slice(0, 2).map((p, n) => ({ ...p, id: 7 + n, on: n === 0 }));
  const strip = { id: 2, chain } as unknown as Strip;
  const levels = {
    strip: 2,
    stations: [
      at('source', -10, 0, -10),
      at('trimmed', -20, -8, -22),
      at({ processor: 7 }, -19, -7, -21),
      at({ processor: 8 }, null, null, null),
      at({ key: 8 }, -30, -3, -6),
      at('out', -18, -6, -20),
    ],
  } as unknown as StripLevels;

  test('say what each changed, in the order of the signal', () => {
    const lines = stationLines(levels, strip, (p) => p.settings.kind);
    expect(lines.map((l) => l.name)).toEqual(['trim', '1. equaliser', '2. compressor (off)', 'fader']);
    expect(lines[0]?.figures).toEqual([
      { now: -20, change: undefined },
      { now: -8, change: undefined },
      { now: 14, change: undefined },
    ]);
    expect(lines[1]?.figures).toEqual([
      { now: -19, change: 1 },
      { now: -7, change: 1 },
      { now: 14, change: 0 },
    ]);
    expect(lines[2]?.figures.every((f) => f.now === undefined && f.change === undefined)).toBe(true);
    expect(lines[3]?.figures.every((f) => f.change === undefined)).toBe(true);
  });

  test('are none before anything was measured', () => {
    expect(stationLines(undefined, strip, () => '')).toEqual([]);
  });
});
