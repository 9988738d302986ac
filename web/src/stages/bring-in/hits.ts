/** Small changes of a list of hits. */
import type { Hit } from '$lib/api/types';

/** Steps that a bar can be divided into, in ticks of 960 a quarter. */
export const STEPS = [
  { value: 480, text: '1/8' },
  { value: 320, text: '1/8 triplet' },
  { value: 240, text: '1/16' },
  { value: 160, text: '1/16 triplet' },
  { value: 120, text: '1/32' },
];

const near = (hit: Hit, at: number, step: number) => hit.at_ticks >= at && hit.at_ticks < at + step;

/** The hit within a step that starts at a tick. */
export const hitAt = (hits: Hit[], at: number, step: number): Hit | undefined =>
  hits.find((hit) => near(hit, at, step));

export const clearHit = (hits: Hit[], at: number, step: number): Hit[] =>
  hits.filter((hit) => !near(hit, at, step));

export const setHit = (hits: Hit[], at: number, step: number, velocity: number): Hit[] =>
  [...clearHit(hits, at, step), { at_ticks: at, length_ticks: step, velocity, tune_st: 0 }].sort(
    (a, b) => a.at_ticks - b.at_ticks,
  );

/** The hits with a change to those of one step. */
export const changeHit = (hits: Hit[], at: number, step: number, change: Partial<Hit>): Hit[] =>
  hits.map((hit) => (near(hit, at, step) ? { ...hit, ...change } : hit));

export const heldVelocity = (velocity: number): number => Math.max(1, Math.min(127, Math.round(velocity)));
