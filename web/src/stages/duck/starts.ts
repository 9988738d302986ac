/** Ready starts: what is ducked by what in most beats, as far as a session has it. */
import type { Session, Strip, Voice } from '$lib/api/types';
import { KEY_SOURCES } from '$lib/state/duckers';
import { KICK } from './room';

export interface Start {
  id: string;
  text: string;
  sources: number[];
  strips: number[];
}

const named = (names: string[]): string => {
  const last = names.at(-1) ?? '';
  return names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${last}` : last;
};

/**
 * The starts that a session has something for, without what is ducked so already.
 *
 * * `ducked` – whether a strip has a ducker by a source.
 */
export function readyStarts(
  doc: Session,
  nameOf: (strip: number) => string,
  ducked: (strip: Strip, source: number) => boolean,
): Start[] {
  const strip = new Map(doc.strips.map((s) => [s.id, s]));
  const heard = (v: Voice) => strip.get(v.channel)?.kind === 'channel';
  const channels = (fits: (v: Voice) => boolean) => [
    ...new Set(doc.voices.filter((v) => heard(v) && fits(v)).map((v) => v.channel)),
  ];
  const free = (ids: number[], sources: number[]) =>
    ids.filter((id) => {
      const s = strip.get(id);
      return s !== undefined && !sources.includes(id) && !sources.every((source) => ducked(s, source));
    });
  const kick = doc.voices.find((v) => heard(v) && KICK.test(v.name))?.channel;
  const starts: Start[] = [];
  const offer = (id: string, sources: number[], all: number[], text: (names: string) => string) => {
    const strips = free(all, sources);
    if (sources.length > 0 && strips.length > 0)
      starts.push({ id, sources, strips, text: text(named(sources.map(nameOf))) });
  };
  const only = (id: number | undefined) => (id === undefined ? [] : [id]);
  offer(
    'musical',
    only(kick),
    channels((v) => v.family === 'bass' || v.family === 'music'),
    (key) => `everything musical under ${key}`,
  );
  offer(
    'bass',
    only(kick),
    channels((v) => v.family === 'bass'),
    (key) => `the bass under ${key}`,
  );
  offer(
    'loops',
    only(kick),
    channels((v) => v.source.kind === 'recording' && v.family !== 'bass' && v.family !== 'music'),
    (key) => `recordings under ${key}`,
  );
  for (const back of doc.strips.filter((s) => s.kind === 'return')) {
    const feeders = doc.strips
      .filter((s) => s.sends.some((send) => send.to === back.id && !send.mute && send.level_db > -100))
      .map((s) => s.id);
    // Where more than a key can hear feed it, those that stand first on the board.
    offer(
      `return ${back.id}`,
      feeders.slice(0, KEY_SOURCES),
      [back.id],
      (key) => `${nameOf(back.id)} under ${key}, which it comes from`,
    );
  }
  return starts;
}
