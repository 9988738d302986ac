/** What a sound is heard with: pieces of the session that, where they stay the same, leave it the same. */
import type { Session } from '$lib/api/types';

/** Strips that lead into some strips, and those themselves. */
function leadingTo(doc: Session, strips: number[]): Set<number> {
  const into = new Set(strips);
  // Buses in buses are few; each round takes one further in.
  for (let size = 0; size < into.size;) {
    size = into.size;
    for (const strip of doc.strips) {
      const sends = strip.sends.some((send) => into.has(send.to));
      if (sends || (strip.output !== null && into.has(strip.output))) into.add(strip.id);
    }
  }
  return into;
}

/**
 * Pieces that what some strips carry is made of. Pieces that did not change stay the same objects, so that two of these tell
 * whether anything in them did.
 */
export function heardWith(doc: Session, strips: number[]): unknown[] {
  const into = leadingTo(doc, strips);
  const leading = doc.strips.filter((s) => into.has(s.id));
  const voices = doc.voices.filter((v) => into.has(v.channel));
  // Who follows plays the leader's hits.
  const hits = new Set(voices.flatMap((v) => [v.id, ...(v.follows === null ? [] : [v.follows])]));
  const { tempo_bpm, metre, swing } = doc.header;
  return [
    ...[tempo_bpm, JSON.stringify([metre, swing])],
    ...leading,
    ...voices,
    ...doc.parts.filter((p) => hits.has(p.voice)),
    ...doc.sections,
    ...doc.patterns,
  ];
}

export const sameHeard = (a: unknown[], b: unknown[]): boolean =>
  a.length === b.length && a.every((piece, at) => piece === b[at]);
