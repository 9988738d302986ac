import { describe, expect, test } from 'vitest';
import type { Alignment, Blend, MainFigures } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import {
  alignmentSaid,
  alignmentShort,
  backSaid,
  blendSaid,
  difference,
  feedersOf,
  feedSaid,
  sameButFader,
  signed,
  wholeFrames,
} from './path-words';
import { parallelSend, plainSend } from '$lib/state/sends';

const lies = (of: Partial<Alignment>): Alignment => ({
  verdict: 'off',
  delay_frames: 0,
  inverted: false,
  correlation: 0.9,
  now: 0.2,
  gain_db: 3,
  ...of,
});
const figures = (sample_peak_dbfs: number | null, lufs: number | null): MainFigures => ({
  sample_peak_dbfs,
  true_peak_dbtp: sample_peak_dbfs,
  lufs,
  crest_db: 12,
});
const blend = (fader_db: number, peaks: [number, number], loud: [number, number]): Blend => ({
  fader_db,
  with: figures(peaks[0], loud[0]),
  without: figures(peaks[1], loud[1]),
  before_limiter: false,
});

describe('how a sound lies', () => {
  test.each([
    [{ delay_frames: 37.02 }, '37 samples late'],
    [{ delay_frames: 1.4 }, '1 sample late'],
    [{ delay_frames: -240 }, '240 samples early'],
    [{ inverted: true }, 'inverted'],
    [{ delay_frames: 12, inverted: true }, '12 samples late, inverted'],
  ])('%o is said in samples', (of, text) => {
    expect(alignmentSaid(lies(of))).toEqual({ text, tone: 'look' });
    expect(alignmentShort(lies(of)).text).toBe(text);
  });

  test.each([
    ['in_time', 'in time, in polarity', 'in time', 'good'],
    ['unrelated', 'nothing in common: correlation 0.02', 'nothing in common', 'second'],
    ['space', 'room or echo, never late', 'room or echo', 'second'],
    ['silent', 'silent in the loop', 'silent', 'second'],
  ] as const)('%s has words of its own', (verdict, text, short, tone) => {
    const of = lies({ verdict, correlation: 0.02 });
    expect(alignmentSaid(of)).toEqual({ text, tone });
    expect(alignmentShort(of).text).toBe(short);
  });

  test('what is less than half a sample is no sample', () => {
    expect(Object.is(wholeFrames(lies({ delay_frames: -0.3 })), 0)).toBe(true);
  });
});

describe('what a blend brings', () => {
  test('is a difference of each figure, where both sound', () => {
    expect(difference(blend(-8, [-5, -5.4], [-16.9, -18.8]), 'lufs')).toBeCloseTo(1.9);
    expect(
      difference({ ...blend(-8, [0, 0], [0, 0]), without: figures(null, null) }, 'lufs'),
    ).toBeUndefined();
  });

  test.each([
    [blend(-8, [-5, -5.4], [-16.9, -18.8]), 'Fuller by 1.9 LU for +0.4 dB of peak.'],
    [blend(-8, [-5, -5], [-19, -18]), 'Thinner by 1.0 LU, 0.0 dB of peak: does it lie off?'],
    [blend(-8, [-5, -5.2], [-18, -18]), 'As loud as without, +0.2 dB of peak.'],
    [blend(-100, [-5, -5], [-18, -18]), 'Off: raise the blend, and main is the same until then.'],
    [{ ...blend(-8, [0, 0], [0, 0]), with: figures(null, null) }, 'Main is silent in the loop.'],
  ])('is said in a sentence', (of, sentence) => expect(blendSaid(of)).toBe(sentence));

  test('signs stand before what is not nothing', () => {
    expect([0.44, -0.04, 0.04, -1.5, undefined].map((x) => signed(x))).toEqual([
      '+0.4',
      '0.0',
      '0.0',
      '-1.5',
      '–',
    ]);
  });

  test('what never comes back is said so', () => {
    expect(backSaid(null)).toBe('not back between hits');
    expect(backSaid(0.8)).toBe('0.80 of a beat');
  });
});

describe('a session with a path', () => {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare')), (doc) => ({
    kind: 'new_return',
    name: 'Press',
    feeders: doc.voices.map((v) => v.channel),
    silent: true,
  }));
  const doc = desk.document();
  const path = doc.strips.find((s) => s.kind === 'return')?.id ?? 0;
  const nameOf = (id: number) => doc.voices.find((v) => v.channel === id)?.name ?? '';

  test('says what feeds it, and how', () => {
    const feeders = feedersOf(doc, path);
    expect(feedSaid(feeders, path, nameOf)).toBe('fed by Kick, Snare at full level');
    const as = (send: object) => feeders.map((s) => ({ ...s, sends: [{ ...parallelSend(path), ...send }] }));
    expect(feedSaid(as({}), path, nameOf)).toBe('fed by Kick, Snare at full level, before the fader');
    expect(feedSaid(as({ level_db: -3 }), path, nameOf)).toBe('fed by Kick, Snare, before the fader');
    expect(feedSaid(as(plainSend(path)), path, nameOf)).toBe('fed by Kick, Snare at full level');
    expect(feedSaid([], path, nameOf)).toBe('nothing feeds it yet');
    const many = Array.from({ length: 5 }, () => as({})[0] ?? feeders[0]).flatMap((s) => (s ? [s] : []));
    expect(feedSaid(many, path, nameOf)).toBe('fed by 5 rows at full level, before the fader');
  });

  test('sounds the same to its path where only the fader of that moved', () => {
    const moved = (strip: number, what: 'fader_db' | 'trim_db') => ({
      ...doc,
      strips: doc.strips.map((s) => (s.id === strip ? { ...s, [what]: -3 } : s)),
    });
    expect(sameButFader(doc, { ...doc }, path)).toBe(true);
    expect(sameButFader(doc, moved(path, 'fader_db'), path)).toBe(true);
    expect(sameButFader(doc, moved(path, 'trim_db'), path)).toBe(false);
    expect(sameButFader(doc, moved(doc.voices[0]?.channel ?? 0, 'fader_db'), path)).toBe(false);
    expect(sameButFader(doc, { ...doc, voices: [...doc.voices] }, path)).toBe(false);
    expect(sameButFader(doc, { ...doc, header: { ...doc.header, tempo_bpm: 60 } }, path)).toBe(false);
    expect(sameButFader(doc, { ...doc, strips: doc.strips.slice(1) }, path)).toBe(false);
  });
});
