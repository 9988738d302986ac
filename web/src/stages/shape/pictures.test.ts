import { describe, expect, test } from 'vitest';
import type { KindInfo, Param, Settings } from '$lib/api/types';
import { onDesk } from '$testing/on-desk';
import { freqs, hasPictures, hz, hzOfPlace, line, outline, placeOfHz, shows } from './pictures';

const desk = onDesk();
const [WIDTH, HEIGHT] = [60, 20];
const kinds = desk.kinds.map((kind) => [kind.name, kind] as const);
const drawn = (settings: Settings, mix_percent = 100) =>
  outline(desk, { settings, mix_percent }, WIDTH, HEIGHT);

/** Every point that a path of M, L, H, V and v goes through. */
function points(path: string): [number, number][] {
  let [x, y] = [NaN, NaN];
  return [...path.matchAll(/([MLHVv])([^MLHVv]*)/g)].map(([, step, rest = '']) => {
    const [a = NaN, b = NaN] = rest.trim().split(/[ ,]+/).map(Number);
    if (step === 'M' || step === 'L') [x, y] = [a, b];
    else if (step === 'H') x = a;
    else y = step === 'V' ? a : y + a;
    return [x, y];
  });
}

/** The kind with one value at an end of its range. */
const at = (kind: KindInfo, param: Param, value: number) =>
  ({ ...kind.default, [param.name]: value }) as Settings;

describe('the small picture', () => {
  test.each(kinds)('of %s lies in its box, whatever is set', (_, kind) => {
    const inside = (settings: Settings) => {
      for (const mix of [0, 50, 100])
        for (const [x, y] of points(drawn(settings, mix)))
          expect(
            x >= 0 && x <= WIDTH && y >= 0 && y <= HEIGHT,
            `${x} ${y} of ${JSON.stringify(settings)}`,
          ).toBe(true);
    };
    inside(kind.default);
    for (const param of kind.params)
      for (const value of [param.min, param.max]) if (value !== null) inside(at(kind, param, value));
  });

  test.each(kinds.filter(([, kind]) => kind.default.kind !== 'equaliser'))(
    'of %s shows something',
    (_, kind) => {
      expect(points(drawn(kind.default)).length).toBeGreaterThan(0);
    },
  );

  test('of a compressor bends down as its ratio grows', () => {
    const compressor = desk.kinds.find((k) => k.default.kind === 'compressor')?.default as Settings;
    const top = (ratio: number) =>
      points(drawn({ ...compressor, threshold_dbfs: -40, ratio } as Settings)).at(-1)?.[1] ?? 0;
    expect([2, 4, 20].map(top)).toEqual([2, 4, 20].map(top).toSorted((a, b) => a - b));
    expect(top(20)).toBeGreaterThan(top(2) + 1);
  });

  test('of a reverb grows with its decay', () => {
    const reverb = desk.kinds.find((k) => k.default.kind === 'reverb')?.default as Settings;
    const foot = (decay_s: number) => points(drawn({ ...reverb, decay_s } as Settings))[1]?.[0] ?? 0;
    expect(foot(3)).toBeGreaterThan(foot(0.5));
  });
});

describe('pictures', () => {
  test.each(kinds)('of %s are those that the core can draw', (_, kind) => {
    const levels = [-60, -30, 0];
    if (shows(kind).transfer) expect(desk.transfer(kind.default, levels)).toHaveLength(levels.length);
    expect(hasPictures(kind) || !shows(kind).history).toBe(true);
  });
});

describe('the scale of frequencies', () => {
  test.each([20, 100, 1000, 7654, 20_000])('leads %i Hz there and back', (freq) => {
    expect(hzOfPlace(placeOfHz(freq))).toBeCloseTo(freq, 6);
  });

  test('gives every octave the same width', () => {
    const octave = placeOfHz(80) - placeOfHz(40);
    expect(placeOfHz(10_240) - placeOfHz(5120)).toBeCloseTo(octave, 12);
  });

  test('has one point more than steps, both ends among them', () => {
    const found = freqs(4);
    expect(found).toHaveLength(5);
    expect([found[0], found.at(-1)].map((f) => Math.round(f ?? 0))).toEqual([20, 20_000]);
  });

  test.each([
    [49.6, '50 Hz'],
    [999, '999 Hz'],
    [1000, '1.0 kHz'],
    [12_345, '12.3 kHz'],
  ])('writes %f as %s', (freq, text) => {
    expect(hz(freq)).toBe(text);
  });
});

test('a line goes through its points', () => {
  expect(
    line([
      [0, 1],
      [2.25, 3],
    ]),
  ).toBe('M0.0 1.0L2.3 3.0');
  expect(line([])).toBe('');
});
