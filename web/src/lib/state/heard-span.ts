/** The bars of the loop that a stage hears: those that are over within some seconds, since what is kept grows with them. */
import type { BoardState } from './board.svelte';

export function heardBars(board: BoardState, sampleRate: number, seconds: number): number {
  const most = Math.floor((seconds * sampleRate) / board.frameOf(1));
  return Math.max(1, Math.min(board.loop.length, most));
}

/** Some bars from the start of the loop, in frames. */
export const spanOf = (board: BoardState, bars: number): { from: number; to: number } => ({
  from: board.frameOf(board.loopStart),
  to: board.frameOf(board.loopStart + bars),
});
