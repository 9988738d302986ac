/** Mute and solo of now, which go along to every side that is a state of the session. */
import type { Session, Strip } from '$lib/api/types';

type Switched = Pick<Strip, 'id' | 'mute' | 'solo' | 'solo_safe'>;

const same = (a: Switched, b: Switched): boolean =>
  a.mute === b.mute && a.solo === b.solo && a.solo_safe === b.solo_safe;

/** Another state of a session with mute and solo of now where both have a row; the same one where that changes nothing. */
export function withSwitches(then: Session, now: Session): Session {
  const switches = new Map(now.strips.map((strip) => [strip.id, strip]));
  let changes = false;
  const strips = then.strips.map((strip) => {
    const of = switches.get(strip.id);
    if (!of || same(strip, of)) return strip;
    changes = true;
    return { ...strip, mute: of.mute, solo: of.solo, solo_safe: of.solo_safe };
  });
  return changes ? { ...then, strips } : then;
}

/** Which rows are muted, soloed and safe from solo, as a text that is the same where they are. */
export const switchesOf = (doc: Session): string =>
  JSON.stringify(
    doc.strips
      .filter((s) => s.mute || s.solo || s.solo_safe)
      .map(({ id, mute, solo, solo_safe }) => [id, mute, solo, solo_safe]),
  );
