/** What notes lose when they are put together: lanes that go, with sounds that nothing plays any more. */
import type { Edit, KeptTake, NoteKey, Session, Split, Voice } from '$lib/api/types';

/** Where notes come together whose lanes had sounds of their own. */
export interface Joining {
  /** The place of the split among all. */
  at: number;
  /** What it is called. */
  name: string;
  /** Lanes that go, each with another sound than the one that would be played. */
  lost: Voice[];
}

const same = (a: NoteKey, b: NoteKey) => a.track === b.track && a.channel === b.channel && a.key === b.key;
const sourceOf = (voice: Voice | undefined) => JSON.stringify(voice?.source);

/** The lanes that a new split of a take would remove: made by it, without notes left, playing nowhere else. */
function removed(doc: Session, take: KeptTake, splits: Split[]): Voice[] {
  const goesOn = new Set(splits.flatMap(({ to }) => (to.kind === 'voice' ? [to.voice] : [])));
  const playsElsewhere = (voice: number) =>
    doc.parts.some((p) => p.voice === voice && p.pattern !== take.pattern && p.hits.length > 0);
  return take.groups
    .filter((g) => g.made && !goesOn.has(g.voice) && !playsElsewhere(g.voice))
    .flatMap((g) => doc.voices.filter((v) => v.id === g.voice));
}

/** Where a split would drop sounds, so that somebody can be asked. */
export function joinings(doc: Session, take: KeptTake, splits: Split[]): Joining[] {
  const gone = removed(doc, take, splits);
  return splits.flatMap((split, at) => {
    const { to } = split;
    const target = to.kind === 'voice' ? doc.voices.find((v) => v.id === to.voice) : undefined;
    const lost = gone.filter((voice) => {
      const keys = take.groups.find((g) => g.voice === voice.id)?.keys ?? [];
      const comes = keys.some((key) => split.keys.some((k) => same(k, key)));
      return comes && voice.source.kind !== 'empty' && sourceOf(voice) !== sourceOf(target);
    });
    // Notes of one lane that part have nothing to share a sound with.
    const from = take.groups.filter((g) => g.keys.some((key) => split.keys.some((k) => same(k, key))));
    if (!target && from.length < 2) return [];
    const name = target?.name ?? (to.kind === 'new' ? to.name : '');
    return lost.length > 0 ? [{ at, name, lost }] : [];
  });
}

/**
 * The split with what somebody chose.
 *
 * * `chosen` – for each joining the lane whose sound is played, or nothing for the one that would be.
 */
export function joined(
  take: number,
  splits: Split[],
  found: Joining[],
  chosen: (number | undefined)[],
): Edit {
  const meant = splits.map((split) => ({ ...split }));
  const sources: Edit[] = [];
  found.forEach(({ at, lost }, n) => {
    const voice = lost.find((v) => v.id === chosen[n]);
    const split = meant[at];
    if (!voice || !split) return;
    if (split.to.kind === 'new') split.to = { kind: 'voice', voice: voice.id };
    else sources.push({ kind: 'set_source', voice: split.to.voice, source: voice.source, assets: [] });
  });
  const split: Edit = { kind: 'split_take', take, splits: meant };
  return sources.length > 0 ? { kind: 'batch', edits: [split, ...sources] } : split;
}
