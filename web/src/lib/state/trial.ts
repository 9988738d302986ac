/** What is tried out in this tab alone, until it is kept or put back. */
import type { Edit, Part } from '$lib/api/types';

export interface Trial {
  /** What people call it. */
  name: string;
  edit: Edit;
  /** Whether it is only heard, so that nothing is lost where it ends. */
  heard: boolean;
  /** What is played without it. */
  base: Part[];
}

const isOf = (trial: Trial, pattern: number, voice: number): boolean =>
  trial.edit.kind === 'change_hits' && trial.edit.pattern === pattern && trial.edit.voices.includes(voice);

/** Whether an edit holds what is tried out: hits set by hand among those that were rolled. */
export function takesUp(edit: Edit, trial: Trial): boolean {
  if (edit.kind === 'batch') return edit.edits.some((e) => takesUp(e, trial));
  return edit.kind === 'set_hits' && isOf(trial, edit.pattern, edit.voice);
}

/** Whether a hit of a voice at a tick of a pattern is there only as long as the trial goes on. */
export function isTried(trial: Trial | undefined, pattern: number, voice: number, at_ticks: number): boolean {
  if (!trial || !isOf(trial, pattern, voice)) return false;
  const part = trial.base.find((p) => p.pattern === pattern && p.voice === voice);
  return !part?.hits.some((hit) => hit.at_ticks === at_ticks);
}
