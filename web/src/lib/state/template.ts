/** What a template keeps, and what would be lost of it where it is brought up to date. */
import type { Session, TemplateKeeps } from '$lib/api/types';
import { sourcesOfKey } from './duckers';

/** What a template as it stands was made to keep. */
export function keptBy(template: Session): TemplateKeeps {
  const loud = template.strips.some(
    (s) => s.trim_db !== 0 || s.fader_db !== 0 || s.pan_percent !== 0 || s.width_percent !== 100 || s.mute,
  );
  return {
    audio: template.voices.some((v) => v.source.kind !== 'empty'),
    patterns: template.parts.length > 0 || template.takes.length > 0,
    levels: loud,
    chains: template.strips.some((s) => s.chain.length > 0),
  };
}

/** What of a template is gone once the session takes its place, in words; nothing where nothing is. */
export function lostBy(template: Session, session: Session, keeps: TemplateKeeps): string[] {
  const had = keptBy(template);
  const there = new Set(session.voices.map((v) => v.name.toLowerCase()));
  const lanes = template.voices.filter((v) => !there.has(v.name.toLowerCase())).map((v) => v.name);
  const lost = lanes.length > 0 ? [`the ${lanes.length === 1 ? 'lane' : 'lanes'} ${lanes.join(', ')}`] : [];
  const part = (name: string, was: boolean, stays: boolean) => was && !stays && lost.push(name);
  const sounds = session.voices.some((v) => v.source.kind !== 'empty');
  part('its samples', had.audio, keeps.audio && sounds);
  part('its patterns', had.patterns, keeps.patterns && session.parts.length > 0);
  part('its chains', had.chains, keeps.chains && session.strips.some((s) => s.chain.length > 0));
  part('its levels', had.levels, keeps.levels);
  return lost;
}

/**
 * Strips of a template that keys of its lanes listen to, and that do not come along with them.
 *
 * * `voices` – those that come.
 * * `needed` – buses and returns that come, or are here.
 */
export function deafKeys(template: Session, voices: number[], needed: number[]): number[] {
  const lanes = template.voices.filter((v) => voices.includes(v.id)).map((v) => v.channel);
  const there = new Set([...lanes, ...needed]);
  const heard = template.strips
    .filter((s) => there.has(s.id))
    .flatMap((s) => s.chain.flatMap((p) => (p.key ? sourcesOfKey(p.key) : [])));
  return [...new Set(heard)].filter((id) => !there.has(id));
}
