import { untrack } from 'svelte';

/**
 * What is done where an effect ends, a moment later: as long as it ends, whoever reads state gets what was there before it
 * changed, and would decide by that.
 */
export const ended = (work: () => void) => () => queueMicrotask(() => untrack(work));
