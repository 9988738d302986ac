/** The document on the screen after a patch, as the core has it after the same. */
import type { Change, Patch, Session } from '$lib/api/types';

function changed<T>(list: T[], change: Change<T> | undefined): T[] {
  if (!change) return list;
  if (!change.order) {
    const next = [...list];
    change.at?.forEach((place, n) => (next[place] = change.set[n] as T));
    return next;
  }
  return change.order.map(
    (place) => (place < list.length ? list[place] : change.set[place - list.length]) as T,
  );
}

/** The document after a patch; lists that did not change stay the same objects. */
export function patched(doc: Session, patch: Patch): Session {
  return {
    ...doc,
    header: patch.header ?? doc.header,
    next_id: patch.next_id ?? doc.next_id,
    assets: changed(doc.assets, patch.assets),
    voices: changed(doc.voices, patch.voices),
    strips: changed(doc.strips, patch.strips),
    mix_bus: patch.mix_bus ?? doc.mix_bus,
    patterns: changed(doc.patterns, patch.patterns),
    parts: changed(doc.parts, patch.parts),
    takes: changed(doc.takes, patch.takes),
    sections: changed(doc.sections, patch.sections),
    stem_plan: patch.stem_plan ?? doc.stem_plan,
    dismissed: patch.dismissed ?? doc.dismissed,
    references: patch.references ?? doc.references,
  };
}
