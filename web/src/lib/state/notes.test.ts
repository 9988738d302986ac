import { expect, test } from 'vitest';
import { onDesk } from '$lib/audio/on-desk';
import { noteMs, noteWithMs } from './notes';

test.each([
  ['1/4', 120, 500],
  ['1/8', 120, 250],
  ['1/8t', 120, 166.666_667],
  ['1/16d', 90, 250],
  ['1/2', 60, 2000],
])('%s at %i bpm lasts %f ms', (note, bpm, ms) => {
  expect(noteMs(note, bpm)).toBeCloseTo(ms, 4);
});

test('every note that a compressor knows has a length, ms have none', () => {
  const compressor = onDesk().kinds.find((k) => k.default.kind === 'compressor');
  const options =
    compressor?.choices.find((c) => c.name === 'release_in')?.options.map(([value]) => value) ?? [];
  expect(options.length).toBeGreaterThan(8);
  for (const option of options) expect(noteMs(option, 120) === undefined).toBe(option === 'ms');
});

test.each([
  ['1/8', '1/8', 120, '1/8, 250 ms'],
  ['1/64 up', '1/64', 120, '1/64 up, 31.3 ms'],
  ['ms', 'ms', 120, 'ms'],
])('%s says how long it is', (text, note, bpm, said) => {
  expect(noteWithMs(text, note, bpm)).toBe(said);
});

test.each([
  ['1/2', 20, '1/2, 2500 ms'],
  ['1/64', 300, '1/64, 12.5 ms'],
  ['1/64', 3000, '1/64, 5.0 ms'],
])('%s at %i bpm is no longer and no shorter than a time may be', (note, bpm, said) => {
  expect(noteWithMs(note, note, bpm, { min: 5, max: 2500 })).toBe(said);
});
