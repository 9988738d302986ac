import { describe, expect, test } from 'vitest';
import type { Hit } from '$lib/api/types';
import { changeHit, clearHit, heldVelocity, hitAt, setHit } from './hits';

const hit = (at_ticks: number, velocity = 100): Hit => ({
  at_ticks,
  length_ticks: 240,
  velocity,
  tune_st: 0,
});

describe('hits of a step', () => {
  const hits = [hit(0), hit(250, 80), hit(960)];

  test.each([
    [0, 0],
    [240, 250],
    [960, 960],
  ])('the step at %i has the hit at %i', (step, at) => {
    expect(hitAt(hits, step, 240)?.at_ticks).toBe(at);
  });

  test('a step without one has none, and its end belongs to the next', () => {
    expect(hitAt(hits, 480, 240)).toBeUndefined();
    expect(hitAt(hits, 720, 240)).toBeUndefined();
  });

  test('a new one stands in order of time, instead of what was in its step', () => {
    expect(setHit(hits, 240, 240, 90).map((h) => [h.at_ticks, h.velocity])).toEqual([
      [0, 100],
      [240, 90],
      [960, 100],
    ]);
    expect(setHit(hits, 480, 240, 90).map((h) => h.at_ticks)).toEqual([0, 250, 480, 960]);
  });

  test('a change meets what is in the step alone', () => {
    const changed = changeHit(hits, 240, 240, { tune_st: 5 });
    expect(changed.map((h) => h.tune_st)).toEqual([0, 5, 0]);
    expect(hits[1]?.tune_st).toBe(0);
    expect(clearHit(hits, 240, 240)).toEqual([hits[0], hits[2]]);
  });

  test.each([
    [-4, 1],
    [63.6, 64],
    [200, 127],
  ])('a velocity of %d is held at %i', (given, held) => {
    expect(heldVelocity(given)).toBe(held);
  });
});
