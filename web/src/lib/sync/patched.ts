/** The document on the screen after a patch, as the core has it after the same. */
import type { Change, Patch, Session } from '$lib/api/types';

function changed<T>(list: T[], change: Change<T>): T[] {
  if (!change.order) {
    const next = [...list];
    change.at?.forEach((place, n) => (next[place] = change.set[n] as T));
    return next;
  }
  return change.order.map(
    (place) => (place < list.length ? list[place] : change.set[place - list.length]) as T,
  );
}

const isChange = (value: unknown): value is Change<unknown> =>
  typeof value === 'object' && value !== null && 'set' in value;

/** The document after a patch; lists that did not change stay the same objects. What it holds is the core's to say. */
export function patched(doc: Session, patch: Patch): Session {
  const next: Record<string, unknown> = { ...doc };
  for (const [field, value] of Object.entries(patch)) {
    if (value === undefined || value === null) continue;
    next[field] = isChange(value) ? changed(next[field] as unknown[], value) : value;
  }
  return next as unknown as Session;
}
