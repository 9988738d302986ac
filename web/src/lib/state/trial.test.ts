import { describe, expect, test } from 'vitest';
import type { Edit, Hit, Part } from '$lib/api/types';
import { isTried, takesUp, type Trial } from './trial';

const hit = (at_ticks: number): Hit => ({ at_ticks, length_ticks: 240, velocity: 90, tune_st: 0 });
const part = (pattern: number, voice: number, at: number[]): Part =>
  ({ pattern, voice, hits: at.map(hit) }) as Part;
const trial: Trial = {
  heard: false,
  name: 'Random fill',
  edit: {
    kind: 'change_hits',
    pattern: 3,
    voices: [7, 8],
    range: { from: 0, bars: 1 },
    change: { kind: 'clear' },
  },
  base: [part(3, 7, [0, 960]), part(4, 7, [480])],
};

describe('a trial', () => {
  test.each([
    [3, 7, 0, false],
    [3, 7, 480, true],
    [3, 8, 0, true],
    // Another pattern, another voice.
    [4, 7, 0, false],
    [3, 9, 480, false],
  ])('of pattern %i, voice %i, tick %i: tried %s', (pattern, voice, at, tried) => {
    expect(isTried(trial, pattern, voice, at)).toBe(tried);
  });

  test('without one nothing is tried', () => {
    expect(isTried(undefined, 3, 7, 480)).toBe(false);
  });

  const set = (pattern: number, voice: number): Edit => ({ kind: 'set_hits', pattern, voice, hits: [] });
  test.each([
    [set(3, 7), true],
    [set(3, 9), false],
    [set(4, 7), false],
    [{ kind: 'batch', edits: [set(4, 7), set(3, 8)] } as Edit, true],
    [{ kind: 'double_pattern', pattern: 3 } as Edit, false],
  ])('is taken up by hits set among it by hand (%#)', (edit, taken) => {
    expect(takesUp(edit, trial)).toBe(taken);
  });
});
