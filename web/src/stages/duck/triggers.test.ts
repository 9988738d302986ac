import { describe, expect, test } from 'vitest';
import type { Voice } from '$lib/api/types';
import { onDesk } from '$testing/on-desk';
import { clickTrigger, hitsOf, lengthOf, rhythmTrigger, RHYTHMS, withLayers, withLength } from './triggers';

const FOUR = { bar_ticks: 3840, beat_ticks: 960 };
const SEVEN_EIGHTHS = { bar_ticks: 3360, beat_ticks: 480 };
const asset = { id: 'cd'.repeat(32), name: 'Click', channels: 1, sample_rate: 48_000, frames: 1920 };

describe('a rhythm', () => {
  test.each([
    ['beat', 1, FOUR, [0, 960, 1920, 2880]],
    ['off-beat', 1, FOUR, [480, 1440, 2400, 3360]],
    ['bar', 3, FOUR, [0, 3840, 7680]],
    ['beat', 1, SEVEN_EIGHTHS, [0, 480, 960, 1440, 1920, 2400, 2880]],
    ['off-beat', 0, FOUR, []],
  ] as const)('on every %s of %i bars', (rhythm, bars, time, expected) => {
    expect(hitsOf(rhythm, bars, time)).toEqual(expected);
  });
});

test.each(RHYTHMS.map((r) => [r.id, r.name] as const))(
  '%s: the core takes the trigger, in every pattern',
  (id, name) => {
    const desk = onDesk({ kind: 'add_pattern', name: 'B', bars: 3, copy_of: null });
    const doc = desk.document();
    desk.apply(rhythmTrigger(id, doc.patterns, desk.timeline(), asset));
    const after = desk.document();
    const voice = after.voices.find((v) => v.name === name);
    expect(after.strips.find((s) => s.id === voice?.channel)).toMatchObject({
      kind: 'trigger',
      output: null,
    });
    const parts = after.parts.filter((p) => p.voice === voice?.id);
    expect(parts.map((p) => p.pattern).toSorted()).toEqual(doc.patterns.map((p) => p.id).toSorted());
  },
);

describe('the sound of a trigger', () => {
  const made = () => {
    const desk = onDesk();
    const [pattern] = desk.document().patterns;
    const hits = [{ at_ticks: 33, length_ticks: 240, velocity: 90, tune_st: 0, shift_ticks: -5 }];
    desk.apply(clickTrigger('Loop trigger', [{ pattern: pattern?.id ?? 0, hits: hits as never }], asset));
    const voice = () => desk.document().voices.find((v) => v.name === 'Loop trigger') as never as Voice;
    return { desk, voice };
  };

  test('has the hits that were found', () => {
    const { desk, voice } = made();
    const part = desk.document().parts.find((p) => p.voice === voice().id);
    expect(part?.hits[0]).toMatchObject({ at_ticks: 33, velocity: 90, shift_ticks: -5 });
  });

  test('is as long as its sample, or as it is told', () => {
    const { desk, voice } = made();
    expect(lengthOf(voice(), desk.document().assets)).toBe(40);
    for (const ms of [12, 3, 1, 250]) {
      desk.apply({ kind: 'set_source', voice: voice().id, source: withLength(voice(), ms), assets: [] });
      expect(lengthOf(voice(), desk.document().assets)).toBe(ms);
    }
    const source = withLayers(voice(), (l) => ({ ...l, gain_db: -6 }));
    expect(source.kind === 'one_shot' && source.layers[0]).toMatchObject({ gain_db: -6, decay: { ms: 250 } });
  });

  test('of a lane without one-shots is nothing to be set', () => {
    const empty = { ...made().voice(), source: { kind: 'empty' } } as Voice;
    expect(lengthOf(empty, [])).toBe(0);
    expect(withLength(empty, 10)).toEqual({ kind: 'empty' });
  });
});
