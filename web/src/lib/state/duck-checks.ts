/** What is worth a look at duckers, once they were heard. */
import type { Check, Ducker, Edit } from '$lib/api/types';
import type { SessionState } from './session.svelte';

/** A ducker that takes no more than this away does nothing, in dB. */
const LEAST_DB = 0.05;

/** Duckers that never do anything, and such that are never back, though they have something to hear and to duck. */
export function heardChecks(session: SessionState, duckers: Ducker[]): Check[] {
  const { doc, desk } = session;
  return duckers.flatMap(({ strip, processor, figures, keyed, sounds }): Check[] => {
    const ducker = doc.strips.find((s) => s.id === strip)?.chain.find((p) => p.id === processor);
    if (!ducker?.on || !keyed || !sounds) return [];
    const never = figures.depth_db < LEAST_DB;
    if (!never && !figures.stuck) return [];
    const key = `${never ? 'never ducks' : 'never back'} ${processor}`;
    const name = `The ${desk.nameOf(ducker).toLowerCase()} of ${session.nameOf(strip)}`;
    const sentence = never
      ? `${name} does nothing in the loop, though its key sounds.`
      : `${name} is never back in the loop: it makes the sound softer instead of making room.`;
    const off: Edit = { kind: 'set_processor', strip, processor, change: { what: 'on', to: false } };
    const repair = { name: 'Switch it off', edit: off };
    return [{ key, sentence, repair, dismissed: doc.dismissed.includes(key) }];
  });
}
