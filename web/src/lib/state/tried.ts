/** What a field does while it is moved, when it is let go, and when it is not meant. */
import type { Edit, MovedValue } from '$lib/api/types';
import type { SessionState } from '$lib/state/session.svelte';

/** Tries the edit of a value while it is moved, applies it on release, takes it back where it is not meant. */
export function tried(session: SessionState, edit: (to: number) => Edit | undefined) {
  const with_ = (how: 'try' | 'apply') => (to: number) => {
    const made = edit(to);
    if (made) session[how](made);
  };
  return { onlive: with_('try'), oncommit: with_('apply'), oncancel: () => session.cancelLive() };
}

/** By how much a value went: by how many octaves where it runs by ratio. */
export const distance = (from: number, to: number, byRatio = false): number =>
  byRatio && from > 0 && to > 0 ? Math.log2(to / from) : Math.round((to - from) * 1e6) / 1e6;

/**
 * The same, and where several strips are meant, moves them by the same amount instead of making them equal.
 *
 * * `strips` – asked for when the value is moved, so that a field does not follow what is chosen.
 * * `edit` – makes the value the same on all of them.
 */
export function triedTogether(
  session: SessionState,
  strips: () => number[],
  value: MovedValue,
  edit: (to: number) => Edit | undefined,
  byRatio = false,
) {
  const together = () => {
    const meant = strips();
    if (meant.length < 2) return undefined;
    return (from: number, to: number, how: 'try' | 'apply') =>
      session[how]({ kind: 'move_values', strips: meant, value, by: distance(from, to, byRatio) });
  };
  return { ...tried(session, edit), together };
}
