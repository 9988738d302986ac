/** Triggers on a rhythm: lanes that nobody hears, for keys. */
import type { AssetRef, Edit, Pattern, Timeline } from '$lib/api/types';
import { plainLayer } from '$lib/bring/placing';

export const RHYTHMS = [
  { id: 'beat', name: 'Beat trigger', text: 'a trigger on every beat' },
  { id: 'off-beat', name: 'Off-beat trigger', text: 'a trigger on every off-beat' },
  { id: 'bar', name: 'Bar trigger', text: 'a trigger on every bar' },
] as const;
export type Rhythm = (typeof RHYTHMS)[number]['id'];

/** Length of a hit in ticks: long enough for any click. */
const LENGTH_TICKS = 240;

/** Where a rhythm hits in a pattern, in ticks. */
export function hitsOf(
  rhythm: Rhythm,
  bars: number,
  { bar_ticks, beat_ticks }: Pick<Timeline, 'bar_ticks' | 'beat_ticks'>,
): number[] {
  const every = rhythm === 'bar' ? bar_ticks : beat_ticks;
  const from = rhythm === 'off-beat' ? beat_ticks / 2 : 0;
  const count = Math.max(0, Math.ceil((bars * bar_ticks - from) / every));
  return Array.from({ length: count }, (_, n) => from + n * every);
}

/** A trigger that hits in every pattern. */
export function rhythmTrigger(
  rhythm: Rhythm,
  patterns: Pattern[],
  time: Pick<Timeline, 'bar_ticks' | 'beat_ticks'>,
  asset: AssetRef,
): Edit {
  const name = RHYTHMS.find((r) => r.id === rhythm)?.name ?? 'Trigger';
  const hits = patterns.map((pattern) => ({
    pattern: pattern.id,
    hits: hitsOf(rhythm, pattern.bars, time).map((at_ticks) => ({
      at_ticks,
      length_ticks: LENGTH_TICKS,
      velocity: 127,
      tune_st: 0,
    })),
  }));
  const source = {
    kind: 'one_shot' as const,
    layers: [plainLayer(asset.id)],
    hold: { kind: 'whole' as const },
  };
  const voices = [{ name, family: 'percussion' as const, source, output: null, trim_db: 0, hits }];
  return { kind: 'add_triggers', voices, assets: [asset] };
}
