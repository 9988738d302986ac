/** Moving processors within a chain, with the order before kept to be compared with. */
import type { BoardState } from '$lib/state/board.svelte';
import type { SessionState } from '$lib/state/session.svelte';

/** Puts a processor at a place of its own chain. */
export function moveProcessor(
  session: SessionState,
  board: BoardState,
  strip: number,
  processor: number,
  to: number,
): void {
  const before = session.doc.strips.find((s) => s.id === strip)?.chain.map((p) => p.id) ?? [];
  if (session.apply({ kind: 'move_processor', strip, processor, to })) board.otherOrders[strip] = before;
}
