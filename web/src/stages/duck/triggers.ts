/** Triggers on a rhythm: lanes that nobody hears, for keys. */
import type { AssetRef, Edit, Layer, NewHits, Pattern, Timeline, Voice, VoiceSource } from '$lib/api/types';
import { plainLayer } from '$stages/bring-in/incoming/placing';

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
  return clickTrigger(name, hits, asset);
}

/** A trigger with some hits, on a click that nobody hears. */
export function clickTrigger(name: string, hits: NewHits[], asset: AssetRef): Edit {
  const source = {
    kind: 'one_shot' as const,
    layers: [plainLayer(asset.id)],
    hold: { kind: 'whole' as const },
  };
  const voices = [{ name, family: 'percussion' as const, source, output: null, trim_db: 0, hits }];
  return { kind: 'add_triggers', voices, assets: [asset] };
}

/** The sound of a trigger with other layers. */
export const withLayers = (voice: Voice, change: (layer: Layer) => Layer): VoiceSource =>
  voice.source.kind === 'one_shot'
    ? { ...voice.source, layers: voice.source.layers.map(change) }
    : voice.source;

/** How long a trigger sounds for keys, in ms: until it has fallen to silence. */
export function lengthOf(voice: Voice, assets: AssetRef[]): number {
  const layer = voice.source.kind === 'one_shot' ? voice.source.layers[0] : undefined;
  if (!layer) return 0;
  if (layer.decay) return layer.decay.hold_ms + layer.decay.ms;
  const asset = assets.find((a) => a.id === layer.asset);
  const frames = (layer.end_frame ?? asset?.frames ?? 0) - layer.start_frame;
  return asset ? Math.round((10_000 * frames) / asset.sample_rate) / 10 : 0;
}

/** The sound of a trigger that has fallen to silence after so many ms; what is held of it stays as far as that lets it. */
export const withLength = (voice: Voice, ms: number): VoiceSource =>
  withLayers(voice, (layer) => {
    const hold_ms = Math.min(layer.decay?.hold_ms ?? 0, Math.max(0, ms - 1));
    const curve_percent = layer.decay?.curve_percent ?? 0;
    return { ...layer, decay: { hold_ms, ms: Math.max(1, ms - hold_ms), curve_percent } };
  });
