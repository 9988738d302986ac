/** Hits on the grid of a loop, and small changes of a list of hits. */
import type { Hit, Session } from '$lib/api/types';
import { barTicks, type Bar } from '$lib/state/board.svelte';

/** Steps that a bar can be divided into, in ticks of 960 a quarter. */
export const STEPS = [
  { value: 480, text: '1/8' },
  { value: 320, text: '1/8 triplet' },
  { value: 240, text: '1/16' },
  { value: 160, text: '1/16 triplet' },
  { value: 120, text: '1/32' },
];

export interface PlacedHit {
  hit: Hit;
  /** Ticks from the start of the loop, with its shift. */
  at: number;
  /** Whether it is written there, rather than repeated by a loop of the voice's own. */
  written: boolean;
}

/** The voice whose hits a voice plays. */
export const leaderOf = (doc: Session, voice: number): number =>
  doc.voices.find((v) => v.id === voice)?.follows ?? voice;

/** The hits of a voice in the bars of a loop. */
export function placedHits(doc: Session, loop: Bar[], voice: number): PlacedHit[] {
  const bar = barTicks(doc);
  const leader = leaderOf(doc, voice);
  const parts = new Map(doc.parts.filter((p) => p.voice === leader).map((p) => [p.pattern, p]));
  return loop.flatMap((place, index) => {
    const part = parts.get(place.pattern.id);
    if (!part) return [];
    // The bar's ticks counted from the start of its section, folded into the voice's own loop.
    const period = part.loop_ticks ?? place.pattern.bars * bar;
    const from = (part.loop_ticks === undefined ? place.patternBar : place.loopFrom) * bar;
    return part.hits.flatMap((hit) => {
      if (hit.at_ticks >= period) return [];
      const found: PlacedHit[] = [];
      const first = Math.ceil((from - hit.at_ticks) / period) * period + hit.at_ticks;
      for (let at = first; at < from + bar; at += period)
        found.push({
          hit,
          at: index * bar + at - from + (hit.shift_ticks ?? 0),
          written: at === hit.at_ticks || part.loop_ticks === undefined,
        });
      return found;
    });
  });
}

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
