/** Duckers of a document: processors that take gain away or move a filter by a key, or on the beat. */
import type { Key, Processor, Session, Strip } from '$lib/api/types';
import type { Desk } from '$lib/audio/desk';

/** Stands for keys whose source was removed. */
export const GONE = 0;
/** Stands for the beat, where there is no key. */
export const BEAT = -1;

/** A key that hears the whole of some strips, before their faders; the first of them leads. */
export const keyOf = ({ ready }: Pick<Desk, 'ready'>, ...sources: number[]): Key => ({
  ...ready.key,
  ...keyed(sources),
});

/** The strips of a key, the first of them leading. */
export function keyed(sources: number[]): Pick<Key, 'source' | 'also'> {
  const [source = null, a = null, b = null, c = null] = [...new Set(sources)];
  return { source, also: [a, b, c] };
}

/** The strips that a key hears, each once. */
export const sourcesOfKey = (key: Key): number[] => [
  ...new Set([key.source, ...key.also].filter((id): id is number => id !== null)),
];

/** Whether all that sounds on a strip are hits of voices of its own, so that they are known. */
export function plansHits(doc: Session, strip: number): boolean {
  const on = doc.voices.filter((v) => v.channel === strip);
  return on.length > 0 && on.every((v) => v.source.kind === 'one_shot');
}

/** Whether a processor takes gain away or moves a filter by a key, or on the beat. */
export const ducks = (reduces: (kind: string) => boolean, p: Processor): boolean =>
  (p.key !== null && reduces(p.settings.kind) && !lifts(p)) || p.settings.kind === 'beat_shape';

/** Whether it brings up what is soft, instead of taking anything away. */
const lifts = (p: Processor): boolean => p.settings.kind === 'compressor' && p.settings.direction === 'up';

/** What a ducker goes by: strips, the beat, or what is gone. */
export function sourcesOf(p: Processor): number[] {
  if (p.key === null) return [BEAT];
  const sources = sourcesOfKey(p.key);
  return sources.length > 0 ? sources : [GONE];
}

/** What they are called together. */
export function keyName(p: Processor, nameOf: (strip: number) => string): string {
  const names = sourcesOf(p).map((source) => sourceName(source, nameOf));
  const last = names.pop() ?? '';
  return names.length > 0 ? `${names.join(', ')} and ${last}` : last;
}

/** What it is called. */
export const sourceName = (source: number, nameOf: (strip: number) => string): string =>
  source === BEAT ? 'The beat' : source === GONE ? 'A lane that is gone' : nameOf(source);

/** The duckers of a strip that a key works on. */
export const duckersOf = (strip: Strip, source: number, reduces: (kind: string) => boolean): Processor[] =>
  strip.chain.filter((p) => ducks(reduces, p) && sourcesOf(p).includes(source));

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
  const used = new Set(
    doc.strips.flatMap((s) => s.chain.filter((p) => ducks(reduces, p)).flatMap(sourcesOf)),
  );
  const there = new Set(doc.strips.map((s) => s.id));
  const all = new Set([...used, ...wanted.filter((id) => id === BEAT || there.has(id))]);
  // Each once: voices may share a channel.
  const placed = [...new Set(order)].filter((id) => all.has(id));
  const rest = [...all].filter((id) => id > 0 && !placed.includes(id));
  return [...placed, ...rest, ...[BEAT, GONE].filter((id) => all.has(id))];
}
