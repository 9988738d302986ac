import { describe, expect, test } from 'vitest';
import type { PairFigures, Settings } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$lib/audio/on-desk';
import { DUCK_KINDS, duckKind, goesBack, sharedBand, turned, type DuckKind } from './duck-kinds';
import { wholeKey } from './duckers';

const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Bass', 'bass')));
const BPM = 120;
const plain = (to: DuckKind) => {
  const word = DUCK_KINDS.find((k) => k.id === to)?.word;
  return desk.kinds.find((k) => k.default.kind === word)?.default as Settings;
};
const as = (settings: Settings, to: DuckKind, depth = 6, pair?: PairFigures) =>
  turned(settings, to, plain(to), depth, BPM, pair);
const times = { attack_ms: 4, hold_ms: 25, release_ms: 140, lookahead_ms: 3 };
const whole = { ...plain('whole'), ...times } as Settings;

const pair = (shares: [number, number, number][]): PairFigures => ({
  overlap_percent: [50, 20],
  peak_dbfs: [-6, -7],
  loudness_lufs: [-20, -21],
  key_peak_dbfs: -8,
  lost_db: 1,
  bands: shares.map(([from_hz, to_hz, shared_percent]) => ({
    from_hz,
    to_hz,
    shared_percent,
    key_dbfs: -20,
    target_dbfs: -20,
    ducked_dbfs: -26,
  })),
  seconds: 8,
  near: false,
});

describe('a ducker that becomes another kind', () => {
  test.each(DUCK_KINDS.map((k) => k.id))('is %s then, and the session takes it', (to) => {
    const made = as(whole, to);
    expect(duckKind(made)).toBe(to);
    const document = onDesk(addLanes(newVoice('Kick'), newVoice('Bass', 'bass')), (doc) => ({
      kind: 'add_processor',
      strips: [doc.voices[1]?.channel ?? 0],
      settings: made,
      key: wholeKey(doc.voices[0]?.channel ?? 0),
      at: null,
    })).document();
    expect(document.strips.flatMap((s) => s.chain)).toHaveLength(1);
  });

  test('keeps its times where they mean the same', () => {
    expect(as(whole, 'gate')).toMatchObject(times);
    expect(as(whole, 'expander')).toMatchObject({ ...times, ratio: 2 });
    const band = as(whole, 'band');
    expect(band.kind === 'equaliser' && band.bands[0]).toMatchObject({ attack_ms: 4, release_ms: 140 });
    expect(as(band, 'whole')).toMatchObject({ attack_ms: 4, release_ms: 140 });
  });

  test.each([1, 6, 24])('goes as deep as it went: %s dB', (depth) => {
    expect(as(whole, 'shape', depth)).toMatchObject({ depth_db: depth });
    expect(as(whole, 'gate', depth)).toMatchObject({ range_db: depth });
    const band = as(whole, 'band', depth);
    expect(band.kind === 'equaliser' && band.bands[0]?.range_db).toBe(-depth);
  });

  test('works where both share most, where that is known', () => {
    const known = pair([
      [31, 62, 4],
      [62, 125, 60],
      [125, 250, 30],
      [250, 315, 6],
    ]);
    expect(sharedBand(known)).toEqual([62, 250]);
    const band = as(whole, 'band', 6, known);
    const freq = band.kind === 'equaliser' ? (band.bands[0]?.freq_hz ?? 0) : 0;
    expect(freq).toBe(Math.round(Math.sqrt(62 * 250)));
    expect(sharedBand(pair([[31, 62, 4]]))).toBeUndefined();
    expect(sharedBand(undefined)).toBeUndefined();
  });

  test('there and back is the same', () => {
    for (const { id } of DUCK_KINDS) expect(goesBack(whole, as(whole, id), BPM)).toEqual(whole);
  });

  test('there and back is the same with times in notes, and with times that others cannot have', () => {
    for (const change of [
      { release_in: '1/8', hold_in: '1/16t' },
      { attack_ms: 0.02, release_ms: 1 },
    ]) {
      const set = { ...whole, ...change } as Settings;
      for (const { id } of DUCK_KINDS) expect(goesBack(set, as(set, id), BPM)).toEqual(set);
    }
  });

  test.each(['gate', 'expander', 'band', 'filter'] as const)('notes go along to a %s, and back', (kind) => {
    const notes = { ...whole, attack_in: '1/64', release_in: '1/8' } as Settings;
    const other = as(notes, kind);
    const times = other.kind === 'equaliser' ? other.bands[0] : other;
    expect(times).toMatchObject({ attack_in: '1/64', release_in: '1/8', release_ms: 250 });
    expect(as(other, 'whole')).toMatchObject({ attack_in: '1/64', release_in: '1/8' });
    const longer = (to: Settings): Settings =>
      to.kind === 'equaliser'
        ? { ...to, bands: to.bands.map((b) => ({ ...b, release_in: 'ms', release_ms: 300 })) }
        : ({ ...to, release_in: 'ms', release_ms: 300 } as Settings);
    expect(goesBack(notes, longer(other), BPM)).toMatchObject({
      ...{ attack_in: '1/64', release_in: 'ms', release_ms: 300 },
    });
  });

  test('and back with other times has those', () => {
    const gate = { ...as(whole, 'gate'), release_ms: 300 } as Settings;
    expect(goesBack(whole, gate, BPM)).toEqual({ ...whole, release_ms: 300 });
    const long = { ...as(whole, 'gate'), hold_ms: 900 } as Settings;
    expect(goesBack(whole, long, BPM)).toMatchObject({ hold_ms: 500 });
  });

  test('no processor that is none is one', () => {
    const reverb = desk.kinds.find((k) => k.default.kind === 'reverb')?.default as Settings;
    expect(duckKind(reverb)).toBeUndefined();
    expect(turned(whole, 'whole', reverb, 6, BPM)).toBe(reverb);
  });
});
