/** Duckers of a document: processors that take gain away by a key. */
import type { Processor, Session, Strip } from '$lib/api/types';

/** Stands for keys whose source was removed. */
export const GONE = 0;

/** Whether a processor takes gain away by a key. */
export const ducks = (reduces: (kind: string) => boolean, p: Processor): boolean =>
  p.key !== null && reduces(p.settings.kind);

/** The duckers of a strip that a key works on. */
export const duckersOf = (strip: Strip, source: number, reduces: (kind: string) => boolean): Processor[] =>
  strip.chain.filter((p) => ducks(reduces, p) && (p.key?.source ?? GONE) === source);

/**
 * Keys with a column, in the order of the rows; those whose source is gone last.
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
  const used = new Set(
    doc.strips.flatMap((s) => s.chain.filter((p) => ducks(reduces, p)).map((p) => p.key?.source ?? GONE)),
  );
  const there = new Set(doc.strips.map((s) => s.id));
  const all = new Set([...used, ...wanted.filter((id) => there.has(id))]);
  // Each once: voices may share a channel.
  const placed = [...new Set(order)].filter((id) => all.has(id));
  const rest = [...all].filter((id) => id !== GONE && !placed.includes(id));
  return [...placed, ...rest, ...(all.has(GONE) ? [GONE] : [])];
}
