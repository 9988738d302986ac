/** What a field does while it is moved, when it is let go, and when it is not meant. */
import type { Edit } from '$lib/api/types';
import type { SessionState } from '$lib/state/session.svelte';

/** Tries the edit of a value while it is moved, applies it on release, takes it back where it is not meant. */
export const tried = (session: SessionState, edit: (to: number) => Edit | undefined) => {
  const with_ = (how: 'try' | 'apply') => (to: number) => {
    const made = edit(to);
    if (made) session[how](made);
  };
  return { onlive: with_('try'), oncommit: with_('apply'), oncancel: () => session.cancelLive() };
};
