/** Duckers of a document: processors that take gain away by a key, or on the beat. */
import type { Processor, Session, Strip } from '$lib/api/types';

/** Stands for keys whose source was removed. */
export const GONE = 0;
/** Stands for the beat, where there is no key. */
export const BEAT = -1;

/** Whether a processor takes gain away by a key, or on the beat. */
export const ducks = (reduces: (kind: string) => boolean, p: Processor): boolean =>
  (p.key !== null && reduces(p.settings.kind)) || p.settings.kind === 'beat_shape';

/** What a ducker goes by: a strip, the beat, or what is gone. */
export const sourceOf = (p: Processor): number => (p.key === null ? BEAT : (p.key.source ?? GONE));

/** What it is called. */
export const sourceName = (source: number, nameOf: (strip: number) => string): string =>
  source === BEAT ? 'The beat' : source === GONE ? 'A lane that is gone' : nameOf(source);

/** The duckers of a strip that a key works on. */
export const duckersOf = (strip: Strip, source: number, reduces: (kind: string) => boolean): Processor[] =>
  strip.chain.filter((p) => ducks(reduces, p) && sourceOf(p) === source);

/**
 * Keys with a column, in the order of the rows; then the beat, and those whose source is gone.
 *
 * * `order` – strips as they stand on the board.
 * * `wanted` – strips that get a column though nothing is ducked by them yet.
 */
export function keysInUse(
  doc: Session,
  order: number[],
  wanted: number[],
  reduces: (kind: string) => boolean,
): number[] {
  const used = new Set(doc.strips.flatMap((s) => s.chain.filter((p) => ducks(reduces, p)).map(sourceOf)));
  const there = new Set(doc.strips.map((s) => s.id));
  const all = new Set([...used, ...wanted.filter((id) => id === BEAT || there.has(id))]);
  // Each once: voices may share a channel.
  const placed = [...new Set(order)].filter((id) => all.has(id));
  const rest = [...all].filter((id) => id > 0 && !placed.includes(id));
  return [...placed, ...rest, ...[BEAT, GONE].filter((id) => all.has(id))];
}
