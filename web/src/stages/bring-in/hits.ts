/** Hits on the grid of a loop, and small changes of a list of hits. */
import type { Hit, Session } from '$lib/api/types';
import type { Bar } from '$lib/state/board.svelte';

/** A sixteenth. */
export const STEP_TICKS = 240;

export interface PlacedHit {
  hit: Hit;
  /** Ticks from the start of the loop. */
  at: number;
}

/** The hits of a voice in the bars of a loop. */
export function placedHits(doc: Session, loop: Bar[], voice: number): PlacedHit[] {
  const bar = (960 * 4 * doc.header.metre.beats) / doc.header.metre.unit;
  const parts = new Map(doc.parts.filter((p) => p.voice === voice).map((p) => [p.pattern, p.hits]));
  return loop.flatMap((place, index) => {
    const from = place.patternBar * bar;
    return (parts.get(place.pattern.id) ?? [])
      .filter((hit) => hit.at_ticks >= from && hit.at_ticks < from + bar)
      .map((hit) => ({ hit, at: index * bar + hit.at_ticks - from }));
  });
}

const near = (hit: Hit, at: number) => hit.at_ticks >= at && hit.at_ticks < at + STEP_TICKS;

/** The hit within a step that starts at a tick. */
export const hitAt = (hits: Hit[], at: number): Hit | undefined => hits.find((hit) => near(hit, at));

export const clearHit = (hits: Hit[], at: number): Hit[] => hits.filter((hit) => !near(hit, at));

export const setHit = (hits: Hit[], at: number, velocity: number): Hit[] =>
  [...clearHit(hits, at), { at_ticks: at, length_ticks: STEP_TICKS, velocity, tune_st: 0 }].sort(
    (a, b) => a.at_ticks - b.at_ticks,
  );

export const withVelocity = (hits: Hit[], at: number, velocity: number): Hit[] =>
  hits.map((hit) => (near(hit, at) ? { ...hit, velocity: Math.max(1, Math.min(127, velocity)) } : hit));
