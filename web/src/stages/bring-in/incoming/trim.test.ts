import { describe, expect, test } from 'vitest';
import type { BroughtIn, LaneTarget } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import { commonTrim, keepsTrim, trimSentence } from './trim';

const sound = (peak_dbfs: number) => ({
  file: 'a.wav',
  result: { kind: 'recording', peak_dbfs } as unknown as BroughtIn,
});
const notes = { file: 'a.mid', result: { kind: 'midi' } as unknown as BroughtIn };
const target = (db: number, by: LaneTarget['by'] = 'peak'): LaneTarget => ({ by, db });

describe('what comes in together', () => {
  test.each([
    ['the loudest reaches the target', [-3, -20], -12, -9],
    ['soft ones come up', [-30, -24.5], -12, 12.5],
    ['never over it', [-3.14], -12, -8.9],
    ['up to what a trim can', [-90], -12, 24],
  ])('%s', (_, peaks, db, expected) => {
    expect(commonTrim(peaks.map(sound), target(db))).toBeCloseTo(expected);
  });

  test.each([
    ['it stands there already', [sound(-12)], target(-12)],
    ['nothing sounds', [sound(-200), notes], target(-12)],
    ['the target has to be measured', [sound(-3)], target(-18, 'loudness')],
  ])('is left alone where %s', (_, brought, to) => {
    expect(commonTrim(brought, to)).toBeUndefined();
  });

  test('leaves trims alone that somebody set, and lanes that stand in a balance', () => {
    const lanes = { ...newVoice('Kick'), source: { kind: 'empty' } as const };
    const desk = onDesk(addLanes(lanes, { ...lanes, name: 'Snare', trim_db: -3 }, newVoice('Hat')));
    const { voices } = desk.document();
    const sounding = {
      ...desk.document(),
      voices: voices.map((v) =>
        v.name === 'Hat' ? { ...v, source: { kind: 'recording' as const, asset: 'a', start_frame: 0 } } : v,
      ),
    };
    expect(voices.map((v) => keepsTrim(sounding, v.id))).toEqual([false, true, true]);
  });

  test('is told', () => {
    expect(trimSentence(-9, 4, target(-12))).toBe(
      'All trims are -9.0 dB, so that the loudest peaks at -12.0 dBFS and their balance stays.',
    );
    expect(trimSentence(2.5, 1, target(-12))).toBe('Its trim is +2.5 dB, so that it peaks at -12.0 dBFS.');
  });
});
