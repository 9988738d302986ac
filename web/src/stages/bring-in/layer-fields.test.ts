import { describe, expect, test } from 'vitest';
import type { AssetRef, Layer } from '$lib/api/types';
import { layerFields, layerSwitches } from './layer-fields';

const asset: AssetRef = {
  id: 'a'.repeat(64),
  name: 'Kick',
  frames: 48_000,
  channels: 1,
  sample_rate: 48_000,
};
const layer: Layer = {
  asset: asset.id,
  gain_db: -3,
  velocity_percent: 100,
  delay_ms: 0,
  tune_ct: -250,
  start_frame: 480,
  end_frame: null,
  reverse: false,
  fade_in: { ms: 2, curve_percent: 0 },
  decay: null,
  sweep: null,
};
const field = (of: Layer, key: string) => {
  const found = layerFields(of, asset).find((f) => f.key === key);
  if (!found) throw new Error(`no field ${key}`);
  return found;
};

describe('fields of a layer', () => {
  test('tuning is shown as semitones and cents of the same sign, and put together again', () => {
    expect([field(layer, 'tune').value, field(layer, 'fine').value]).toEqual([-2, -50]);
    expect(field(layer, 'tune').to(3)).toEqual({ tune_ct: 250 });
    expect(field(layer, 'fine').to(25)).toEqual({ tune_ct: -175 });
  });

  test('places are shown in ms and kept in frames', () => {
    expect(field(layer, 'start').value).toBe(10);
    expect(field(layer, 'start').to(20)).toEqual({ start_frame: 960 });
    expect(field(layer, 'end').value).toBe(1000);
  });

  test('the start stays before the end, and the end behind the start', () => {
    const short = { ...layer, end_frame: 500 };
    expect(field(short, 'start').to(900)).toEqual({ start_frame: 499 });
    expect(field(short, 'end').to(0)).toEqual({ end_frame: 481 });
  });

  test('an end at the end of the sound is none', () => {
    expect(field(layer, 'end').to(1000)).toEqual({ end_frame: null });
  });

  test('decay and sweep have fields where they are on', () => {
    const keys = (of: Layer) => layerFields(of, asset).map((f) => f.key);
    expect(keys(layer)).not.toContain('decay');
    const shaped = {
      ...layer,
      decay: { hold_ms: 5, ms: 80, curve_percent: 60 },
      sweep: { depth_st: 12, ms: 40 },
    };
    expect(keys(shaped)).toEqual([...keys(layer), 'hold', 'decay', 'decay curve', 'sweep', 'sweep time']);
    expect(field(shaped, 'hold').to(9)).toEqual({ decay: { hold_ms: 9, ms: 80, curve_percent: 60 } });
  });

  test.each([
    ['Decay', { decay: { hold_ms: 0, ms: 1000, curve_percent: 60 } }],
    ['Pitch sweep', { sweep: { depth_st: 12, ms: 40 } }],
    ['Reverse', { reverse: true }],
  ])('%s is switched on, and off again', (name, to) => {
    const switched = (of: Layer) => layerSwitches(of, asset).find((s) => s.name === name);
    expect(switched(layer)?.to).toEqual(to);
    const on = switched({ ...layer, ...to });
    expect(on?.on).toBe(true);
    expect({ ...layer, ...to, ...on?.to }).toEqual(layer);
  });
});
