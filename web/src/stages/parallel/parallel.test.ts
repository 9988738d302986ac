import { describe, expect, test } from 'vitest';
import type { StationLevels, Strip, StripLevels } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import { BUS_COMPRESSORS, BUS_STATIONS, MAIN_STATIONS } from './bus-starts';
import { newPath, PATH_STARTS, processorsOf } from './paths';
import { stationLines } from './stations';

describe('ready paths', () => {
  test.each(PATH_STARTS.map((s) => [s.id, s] as const))(
    '%s is taken by the core, off and as it says',
    (_, start) => {
      const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare')));
      const feeders = desk.document().voices.map((v) => v.channel);
      desk.apply(newPath(start, feeders, desk.kinds));
      const doc = desk.document();
      const made = doc.strips.find((s) => s.kind === 'return');
      expect(made).toMatchObject({ name: start.name, fader_db: -100, output: doc.mix_bus });
      expect(made?.chain.map((p) => p.settings.kind)).toEqual(start.chain.map((p) => p.kind));
      for (const feeder of feeders)
        expect(doc.strips.find((s) => s.id === feeder)?.sends).toEqual([
          { to: made?.id, tap: 'pre_fader', level_db: 0, pan_percent: 0, mute: false, placed: true },
        ]);
      // Every value that it names is one of the kind, and came through.
      start.chain.forEach((station, at) => {
        const settings = made?.chain[at]?.settings ?? {};
        expect(settings).toMatchObject(station.values ?? {});
        if (station.bands) expect(settings).toMatchObject({ bands: station.bands });
      });
    },
  );

  test('ids and words are each their own', () => {
    for (const list of [PATH_STARTS, BUS_COMPRESSORS, MAIN_STATIONS]) {
      expect(new Set(list.map((s) => s.id)).size).toBe(list.length);
      expect(new Set(list.map((s) => s.text)).size).toBe(list.length);
    }
  });

  test('what lifts stays on the near side of its floor', () => {
    const lift = PATH_STARTS.find((s) => s.id === 'upward')?.chain[0]?.values;
    expect(lift).toMatchObject({ direction: 'up' });
    expect(Number(lift?.['floor_dbfs'])).toBeLessThan(Number(lift?.['threshold_dbfs']));
  });
});

describe('ready stations of buses', () => {
  test.each([...BUS_COMPRESSORS, ...MAIN_STATIONS].map((s) => [s.text, s] as const))(
    '%s goes into a chain',
    (_, start) => {
      const desk = onDesk();
      const processors = processorsOf(start.chain, desk.kinds);
      desk.apply({ kind: 'insert_processors', strips: [1], processors, at: null, replace: false });
      expect(desk.document().strips.find((s) => s.id === 1)?.chain).toHaveLength(start.chain.length);
    },
  );

  test('compressors have a budget and a release in notes; main has its limiter last, buses none', () => {
    for (const { chain } of BUS_COMPRESSORS) {
      expect(chain[0]?.values?.['budget_db']).toBeGreaterThan(0);
      expect(chain[0]?.values?.['release_in']).toMatch(/^1\//);
    }
    expect(MAIN_STATIONS.at(-1)?.chain.at(-1)?.kind).toBe('limiter');
    expect(BUS_STATIONS.flatMap((s) => s.chain.map((p) => p.kind))).not.toContain('limiter');
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
  const chain = processorsOf([{ kind: 'equaliser' }, { kind: 'compressor' }], desk.kinds).map((p, n) => ({
    ...p,
    id: 7 + n,
    on: n === 0,
  }));
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
