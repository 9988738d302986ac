/** The pair for which room is made first. */
import type { Session, Voice } from '$lib/api/types';

/** Names that say that a lane is the kick. */
export const KICK = /\bkick\b|\bbass ?drum\b|\bbd\b/i;

/**
 * The row that is looked at makes room for the kick; where that is the kick itself, or none, the bass does.
 *
 * * `current` – the chosen strip.
 */
export function usualPair(
  doc: Session,
  current: number | undefined,
  ducker?: number,
): { key: number; target: number } {
  const ducked = doc.strips.find((s) => s.chain.some((p) => p.id === ducker));
  const source = ducked?.chain.find((p) => p.id === ducker)?.key?.source;
  const low = (v: Voice) => v.family === 'low';
  const kick = (doc.voices.find((v) => KICK.test(v.name)) ?? doc.voices.find(low))?.channel;
  const bass = doc.voices.find((v) => v.family === 'bass')?.channel;
  const first = doc.strips[0]?.id ?? 0;
  const key = source ?? kick ?? first;
  const strip = doc.strips.find((s) => s.id === current);
  const fits = strip && strip.kind !== 'trigger' && strip.kind !== 'main' && strip.id !== key;
  const target = fits ? strip.id : (ducked?.id ?? bass ?? doc.strips.find((s) => s.id !== key)?.id ?? first);
  return { key, target };
}
