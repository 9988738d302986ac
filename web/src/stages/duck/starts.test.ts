import { describe, expect, test } from 'vitest';
import type { Edit, Session } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import { duckersOf, wholeKey } from '$lib/state/duckers';
import { readyStarts } from './starts';

const channel = (doc: Session, name: string) => doc.voices.find((v) => v.name === name)?.channel ?? 0;
const lanes = addLanes(
  newVoice('Kick'),
  newVoice('Clap', 'snare'),
  newVoice('Sub', 'bass'),
  newVoice('Keys', 'music'),
);
const room =
  (...feeders: string[]) =>
  (doc: Session): Edit => ({
    kind: 'new_return',
    name: 'Room',
    feeders: feeders.map((name) => channel(doc, name)),
    silent: false,
  });
const duck =
  (to: string, by: string) =>
  (doc: Session): Edit => ({
    kind: 'add_processor',
    strips: [channel(doc, to)],
    settings: kinds.find((k) => k.default.kind === 'compressor')?.default as never,
    key: wholeKey(channel(doc, by)),
    at: null,
  });
const kinds = onDesk().kinds;
const reduces = (word: string) => kinds.some((k) => k.default.kind === word && k.reduces);
function starts(...edits: (Edit | ((doc: Session) => Edit))[]) {
  const doc = onDesk(...edits).document();
  const nameOf = (id: number) =>
    doc.voices.find((v) => v.channel === id)?.name ?? doc.strips.find((s) => s.id === id)?.name ?? '';
  const found = readyStarts(doc, nameOf, (strip, source) => duckersOf(strip, source, reduces).length > 0);
  return found.map(({ text, strips, sources }) => ({
    text,
    by: sources.map(nameOf),
    on: strips.map(nameOf),
  }));
}

describe('ready starts', () => {
  test('are what the session has something for', () => {
    expect(starts(lanes)).toEqual([
      { text: 'everything musical under Kick', by: ['Kick'], on: ['Sub', 'Keys'] },
      { text: 'the bass under Kick', by: ['Kick'], on: ['Sub'] },
    ]);
    expect(starts()).toEqual([]);
    expect(starts(addLanes(newVoice('Clap', 'snare'), newVoice('Sub', 'bass')))).toEqual([]);
  });

  test('leave out what is ducked so already', () => {
    expect(starts(lanes, duck('Sub', 'Kick')).map((s) => s.on)).toEqual([['Keys']]);
  });

  test('have a return ducked by all that feed it, as far as a key hears them', () => {
    const found = starts(lanes, room('Clap', 'Keys')).find((s) => s.on.includes('Room'));
    expect(found).toEqual({
      text: 'Room under Clap and Keys, which it comes from',
      by: ['Clap', 'Keys'],
      on: ['Room'],
    });
    const many = ['a', 'b', 'c', 'd', 'e'];
    const of = starts(addLanes(...many.map((name) => newVoice(name, 'percussion'))), room(...many));
    expect(of.find((s) => s.on.includes('Room'))?.by).toEqual(['a', 'b', 'c', 'd']);
    expect(starts(lanes, room()).some((s) => s.on.includes('Room'))).toBe(false);
  });
});
