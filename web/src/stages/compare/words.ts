/** What Compare says, and what of it is shown. */
import type { Difference, DifferenceKind } from '$lib/api/types';

export const KINDS: { value: DifferenceKind | 'all'; text: string }[] = [
  { value: 'all', text: 'every kind' },
  { value: 'rows', text: 'rows' },
  { value: 'sound', text: 'sounds' },
  { value: 'hits', text: 'hits' },
  { value: 'levels', text: 'levels' },
  { value: 'chain', text: 'chains' },
  { value: 'routing', text: 'routing' },
  { value: 'song', text: 'song' },
  { value: 'rest', text: 'the rest' },
];

/**
 * Differences of a kind, of one row or of all of them; those of no row that is here now stand with every one.
 *
 * * `strip` – the row; nothing for all.
 * * `here` – the rows of the board.
 */
export const shown = (
  all: Difference[],
  strip: number | undefined,
  kind: DifferenceKind | 'all',
  here: ReadonlySet<number>,
): Difference[] =>
  all.filter(
    (d) =>
      (kind === 'all' || d.kind === kind) &&
      (strip === undefined ||
        d.strip === null ||
        !here.has(d.strip) ||
        d.strip === strip ||
        d.also.includes(strip)),
  );

/** "14:05", "yesterday 22:14", "3 Nov 22:14". */
export function when(taken_at: string, now: Date): string {
  const at = new Date(taken_at);
  const time = at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  const days = Math.round(
    (new Date(now).setHours(0, 0, 0, 0) - new Date(at).setHours(0, 0, 0, 0)) / 86_400_000,
  );
  if (days === 0) return time;
  if (days === 1) return `yesterday ${time}`;
  return `${at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${time}`;
}

/** A likelihood as people read it: "50 %", "1.2 %", "under 0.1 %". */
export function percent(part: number): string {
  const of100 = 100 * part;
  if (of100 >= 9.95) return `${Math.round(of100)} %`;
  return of100 >= 0.095 ? `${of100.toFixed(1)} %` : 'under 0.1 %';
}
