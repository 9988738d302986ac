/** The columns of Duck as the board shows them. */
import type { BoardState } from '$lib/state/board.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { keysInUse } from './matrix';

/** Whether a kind takes gain away by the level. */
export const reducing =
  (session: SessionState) =>
  (word: string): boolean =>
    session.desk.kinds.some((k) => k.default.kind === word && k.reduces);

/** The strips of the keys that have a column. */
export const matrix = (session: SessionState, board: BoardState): number[] =>
  keysInUse(
    session.doc,
    board.rows.map((r) => r.strip.id),
    board.duckKeys,
    reducing(session),
  );
