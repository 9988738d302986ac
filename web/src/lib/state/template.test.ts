import { describe, expect, test } from 'vitest';
import type { Session, TemplateKeeps, Voice } from '$lib/api/types';
import { EMPTY } from '$lib/sync/model';
import { addLanes, newVoice, onDesk, wholeKey } from '$testing/on-desk';
import { deafKeys, keptBy, lostBy } from './template';

const voice = (name: string, source: Voice['source'] = { kind: 'empty' }): Voice => ({
  id: name.length + 10,
  name,
  family: 'low',
  source,
  channel: 1,
  choke_set: null,
  swing: null,
  late_ms: 0,
  follows: null,
});
const of = (change: Partial<Session>): Session => ({ ...EMPTY, ...change });
const recording: Voice['source'] = { kind: 'recording', asset: 'a', start_frame: 0 };
const all: TemplateKeeps = { audio: true, patterns: true, levels: true, chains: true };

describe('what a template keeps', () => {
  test('samples where a lane has one', () => {
    expect(keptBy(of({ voices: [voice('Kick', recording), voice('Snare')] })).audio).toBe(true);
    expect(keptBy(of({ voices: [voice('Kick')] })).audio).toBe(false);
  });

  test('patterns where hits are in it', () => {
    const parts: Session['parts'] = [{ pattern: 1, voice: 2, loop_ticks: null, hits: [] }] as never;
    expect(keptBy(of({ parts })).patterns).toBe(true);
    expect(keptBy(EMPTY).patterns).toBe(false);
  });
});

describe('what is lost', () => {
  test('lanes that the session does not have, by name, whatever their case', () => {
    const template = of({ voices: [voice('Kick'), voice('Clap')] });
    expect(lostBy(template, of({ voices: [voice('kick')] }), all)).toEqual(['the lane Clap']);
  });

  test('samples that are not kept, or that the session has none of', () => {
    const template = of({ voices: [voice('Kick', recording)] });
    expect(lostBy(template, template, all)).toEqual([]);
    expect(lostBy(template, template, { ...all, audio: false })).toEqual(['its samples']);
    expect(lostBy(template, of({ voices: [voice('Kick')] }), all)).toEqual(['its samples']);
  });

  test('nothing of a template that is kept whole', () => {
    expect(lostBy(EMPTY, EMPTY, all)).toEqual([]);
  });
});

test('keys are asked for where what they listen to does not come along', () => {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare'), newVoice('Bass', 'bass')));
  const [kick = 0, snare = 0, bass = 0] = desk.document().voices.map((v) => v.channel);
  desk.apply({
    kind: 'add_processor',
    strips: [bass],
    settings: desk.kinds.find((k) => k.default.kind === 'compressor')?.default as never,
    key: wholeKey(kick, snare),
    at: null,
  });
  const doc = desk.document();
  const voices = (...channels: number[]) =>
    doc.voices.filter((v) => channels.includes(v.channel)).map((v) => v.id);
  expect(deafKeys(doc, voices(bass), [])).toEqual([kick, snare]);
  expect(deafKeys(doc, voices(bass, kick), [])).toEqual([snare]);
  expect(deafKeys(doc, voices(bass, kick), [snare])).toEqual([]);
  expect(deafKeys(doc, voices(kick), [])).toEqual([]);
});
