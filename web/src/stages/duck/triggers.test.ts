import { describe, expect, test } from 'vitest';
import { onDesk } from '$lib/audio/on-desk';
import { hitsOf, rhythmTrigger, RHYTHMS } from './triggers';

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
