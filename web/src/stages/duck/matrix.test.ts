import { describe, expect, test } from 'vitest';
import type { DuckFigures, Ducker, Edit, Session, Settings } from '$lib/api/types';
import { addLanes, newVoice, onDesk, wholeKey } from '$testing/on-desk';
import { rowsOf } from '$lib/state/rows';
import { duckersOf, GONE, keysInUse } from '$lib/state/duckers';
import { depthSaid, depthText, exaggerated, keyState, recovery, worst } from './matrix';

const kinds = onDesk().kinds;
const reduces = (word: string) => kinds.some((k) => k.default.kind === word && (k.reduces || k.sweeps));
const settingsOf = (word: string) => kinds.find((k) => k.default.kind === word)?.default as Settings;

const channel = (doc: Session, name: string) => doc.voices.find((v) => v.name === name)?.channel ?? 0;
const add =
  (word: string, to: string, by?: string) =>
  (doc: Session): Edit => ({
    kind: 'add_processor',
    strips: [channel(doc, to)],
    settings: settingsOf(word),
    key: by === undefined ? null : wholeKey(channel(doc, by)),
    at: null,
  });
const lanes = addLanes(
  newVoice('Kick'),
  newVoice('Clap', 'snare'),
  newVoice('Hat', 'hats'),
  newVoice('Bass', 'bass'),
);
const doc = onDesk(
  lanes,
  add('compressor', 'Bass', 'Kick'),
  add('compressor', 'Bass'),
  add('gate', 'Hat', 'Clap'),
  add('envelope_filter', 'Hat', 'Bass'),
).document();
const keys = (of: Session, wanted: number[] = []) =>
  keysInUse(
    of,
    rowsOf(of).map((r) => r.strip.id),
    wanted,
    reduces,
  );

describe('columns', () => {
  test('are the keys in use, in the order of the rows', () => {
    expect(keys(doc)).toEqual(['Kick', 'Clap', 'Bass'].map((name) => channel(doc, name)));
  });

  test('are wanted ones too, each once, while they are there', () => {
    const [hat, kick] = ['Hat', 'Kick'].map((name) => channel(doc, name)) as [number, number];
    expect(keys(doc, [hat, kick, 999])).toEqual(
      ['Kick', 'Clap', 'Hat', 'Bass'].map((name) => channel(doc, name)),
    );
  });

  test('hold keys whose source was removed, last', () => {
    const kick = doc.voices.find((v) => v.name === 'Kick')?.id ?? 0;
    const desk = onDesk(lanes, add('compressor', 'Bass', 'Kick'), add('gate', 'Hat', 'Clap'));
    desk.apply({ kind: 'remove_voices', voices: [kick] });
    const after = desk.document();
    expect(keys(after)).toEqual([channel(after, 'Clap'), GONE]);
    expect(keyState(after, GONE)).toBe('gone');
    const bass = after.strips.find((s) => s.id === channel(after, 'Bass'));
    expect(bass && duckersOf(bass, GONE, reduces)).toHaveLength(1);
  });

  test('are none in a session without duckers', () => {
    expect(keys(onDesk(lanes).document())).toEqual([]);
  });
});

describe('a cell', () => {
  test('has the duckers of its row and key, and no others', () => {
    const bass = doc.strips.find((s) => s.id === channel(doc, 'Bass'));
    expect(bass && duckersOf(bass, channel(doc, 'Kick'), reduces)).toHaveLength(1);
    expect(bass && duckersOf(bass, channel(doc, 'Clap'), reduces)).toEqual([]);
  });

  test.each([
    [0, '0.0'],
    [0.04, '0.0'],
    [6, '-6.0'],
    [12.34, '-12.3'],
  ])('of %f dB reads %s', (db, text) => {
    expect(depthText(db)).toBe(text);
  });
});

test('a key says why it may not be heard, and stays selectable', () => {
  const kick = channel(doc, 'Kick');
  expect(keyState(doc, kick)).toBe('');
  const changed = (change: object) => ({
    ...doc,
    strips: doc.strips.map((s) => (s.id === kick ? { ...s, ...change } : s)),
  });
  expect(keyState(changed({ mute: true }), kick)).toBe('muted');
  expect(keyState(changed({ output: null }), kick)).toBe('goes nowhere');
  expect(keyState(changed({ kind: 'trigger' }), kick)).toBe('trigger');
});

describe('recovery in words', () => {
  const figures = (change: Partial<DuckFigures>): DuckFigures => ({
    hits: [],
    depth_db: 6,
    average_db: 2,
    late: 0,
    recovery_ms: 38.2,
    stuck: false,
    opening: null,
    ...change,
  });
  const ducker = (change: Partial<DuckFigures>, more: Partial<Ducker> = {}): Ducker => ({
    strip: 1,
    processor: 2,
    figures: figures(change),
    keyed: true,
    sounds: true,
    ...more,
  });
  test.each([
    [ducker({}), 'back 38 ms early', 'good'],
    [ducker({ late: 2, recovery_ms: -54.6 }), 'late by 55 ms on 2 hits', 'look'],
    [ducker({ late: 1, recovery_ms: -3 }), 'late by 3 ms on one hit', 'look'],
    [ducker({ stuck: true, late: 4, recovery_ms: null }), 'is never back', 'look'],
    [ducker({ opening: { opened: 4, hits: 4, open_ms: 119.6 } }), 'open for 120 ms', 'good'],
    [ducker({ opening: { opened: 1, hits: 4, open_ms: 80 } }), 'open for 80 ms on 1 of 4 hits', 'good'],
    [ducker({ opening: { opened: 0, hits: 4, open_ms: 0 } }), 'never opens', 'look'],
    [ducker({ depth_db: 0.8, recovery_ms: null }), 'under 1 dB', 'second'],
    [ducker({ depth_db: 0, recovery_ms: null }), 'takes nothing away', 'look'],
    [ducker({}, { keyed: false }), 'its key is silent here', 'look'],
    [ducker({}, { sounds: false }), 'nothing to duck here', 'second'],
  ])('%#: %s', (of, text, tone) => {
    expect(recovery(of)).toMatchObject({ text, tone });
  });

  test('of several is that of the worst', () => {
    const all = [ducker({}), ducker({ late: 2, recovery_ms: -5 }), ducker({ depth_db: 0 })].map(recovery);
    expect(worst(all)?.text).toBe('late by 5 ms on 2 hits');
    expect(worst([])).toBeUndefined();
  });
});

describe('exaggerated', () => {
  test.each(kinds.filter((k) => k.takes_key && k.reduces).map((k) => [k.name, k.default] as const))(
    '%s is one that the core takes, as its own kind',
    (_, settings) => {
      const desk = onDesk(lanes, add(settings.kind, 'Bass', 'Kick'));
      const to = exaggerated(settings);
      const strip = desk.document().strips.find((s) => s.chain.length > 0);
      const processor = strip?.chain[0]?.id ?? 0;
      const change = { what: 'settings', to } as const;
      desk.apply({ kind: 'set_processor', strip: strip?.id ?? 0, processor, change });
      expect(to.kind).toBe(settings.kind);
    },
  );

  test('a compressor takes more away at every level', () => {
    const desk = onDesk();
    const levels = [-60, -40, -20, -6, 0];
    const plain = settingsOf('compressor');
    const [before, after] = [plain, exaggerated(plain)].map((s) => desk.transfer(s, levels));
    levels.forEach((_, n) => expect(after?.[n] ?? 0).toBeLessThanOrEqual((before?.[n] ?? 0) + 1e-9));
    expect(after?.at(-1)).toBeLessThan((before?.at(-1) ?? 0) - 12);
  });
});

test('a filter is told in octaves, all else in dB', () => {
  const [filter, gate] = [settingsOf('envelope_filter'), settingsOf('gate')];
  expect([depthText(30, filter), depthSaid(30, filter)]).toEqual(['2.5 oct', '2.5 oct']);
  expect([depthText(6.02, gate), depthSaid(0, gate)]).toEqual(['-6.0', '0.0 dB']);
  expect(exaggerated({ ...filter, amount_oct: -2 } as Settings)).toMatchObject({ amount_oct: -8 });
  expect(exaggerated({ ...filter, amount_oct: 1 } as Settings)).toMatchObject({ amount_oct: 8 });
});

test('of two that are late the later is the worse, of two that are back the nearer', () => {
  const ducker = (recovery_ms: number, late: number) =>
    ({
      keyed: true,
      sounds: true,
      figures: { hits: [], depth_db: 6, average_db: 2, stuck: false, opening: null, recovery_ms, late },
    }) as unknown as Ducker;
  const ranks = [ducker(-400, 2), ducker(-20, 1), ducker(5, 0), ducker(300, 0)].map((d) => recovery(d).rank);
  expect(ranks).toEqual(ranks.toSorted((a, b) => a - b));
  expect(new Set(ranks).size).toBe(4);
});
