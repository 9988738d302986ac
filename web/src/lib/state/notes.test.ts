import { expect, test } from 'vitest';
import { onDesk } from '$testing/on-desk';
import { noteWithMs } from './notes';

const desk = onDesk();

test('every note that a compressor knows has a length, ms have none', () => {
  const compressor = desk.kinds.find((k) => k.default.kind === 'compressor');
  const options =
    compressor?.choices.find((c) => c.name === 'release_in')?.options.map(([value]) => value) ?? [];
  expect(options.length).toBeGreaterThan(8);
  for (const option of options) expect(desk.notes.has(option)).toBe(option !== 'ms');
});

test.each([
  ['1/8', '1/8', 120, '1/8, 250 ms'],
  ['1/8t', '1/8t', 120, '1/8t, 167 ms'],
  ['1/16d', '1/16d', 90, '1/16d, 250 ms'],
  ['1/64 up', '1/64', 120, '1/64 up, 31.3 ms'],
  ['ms', 'ms', 120, 'ms'],
])('%s says how long it is', (text, note, bpm, said) => {
  expect(noteWithMs(desk.notes, text, note, bpm)).toBe(said);
});

test.each([
  ['1/2', 20, '1/2, 2500 ms'],
  ['1/64', 300, '1/64, 12.5 ms'],
  ['1/64', 3000, '1/64, 5.0 ms'],
])('%s at %i bpm is no longer and no shorter than a time may be', (note, bpm, said) => {
  expect(noteWithMs(desk.notes, note, note, bpm, { min: 5, max: 2500 })).toBe(said);
});
