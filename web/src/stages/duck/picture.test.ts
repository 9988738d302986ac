import { describe, expect, test } from 'vitest';
import { bars, hitLengths, hitLines, placeText, reductionLine, scaleOf, times, waveBand } from './picture';

const points = (path: string) =>
  [...path.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map((m) => [Number(m[1]), Number(m[2])] as const);

describe('the scale', () => {
  test.each([
    [0, 12],
    [6, 12],
    [11.5, 18],
    [23, 24],
    [23.1, 30],
  ])('for %f dB goes to %i', (depth, deep) => {
    expect(scaleOf(depth)).toBe(deep);
    expect(deep).toBeGreaterThan(depth);
  });
});

describe('what is taken away', () => {
  test('hangs from 0 dB, is as deep as it says, and spans the picture', () => {
    const found = points(reductionLine([0, 6, 12, 0], 100, 62, 12));
    expect(found[0]).toEqual([0, 2]);
    expect(found.at(-1)).toEqual([100, 2]);
    expect(found.map(([, y]) => y)).toEqual([2, 2, 32, 62, 2, 2]);
  });

  test('goes no deeper than the picture', () => {
    expect(Math.max(...points(reductionLine([99], 10, 50, 12)).map(([, y]) => y))).toBe(50);
  });

  test('of nothing is the line at 0 dB', () => {
    expect(reductionLine([], 80, 50, 12)).toBe('M0 2H80');
  });
});

describe('a wave', () => {
  test('lies around its middle, as high as it is loud, at most to the edge', () => {
    const found = points(waveBand([0, 0.25, 1], 90, 50, 20, 0.5));
    expect(found.map(([, y]) => y)).toEqual([50, 40, 30, 70, 60, 50]);
    expect(found.map(([x]) => x)).toEqual([15, 45, 75, 75, 45, 15]);
  });

  test('of nothing is nothing', () => {
    expect(waveBand([], 90, 50, 20, 1)).toBe('');
    expect(points(waveBand([0, 0], 90, 50, 20, 0)).every(([, y]) => y === 50)).toBe(true);
  });
});

describe('hit over hit', () => {
  const values = [6, 3, 0, 0, 12, 6, 3, 0];
  const lines = (hits: number[], span = 400, of = values) =>
    hitLines(of, hits, 800, span, 100, 62, 12).map(points);
  test('every line begins at the left and is as long as there is time', () => {
    const found = lines([0, 400]);
    expect(found.map((line) => line[0])).toEqual([
      [0, 32],
      [0, 62],
    ]);
    expect(found.map((line) => line.at(-1)?.[0])).toEqual([75, 75]);
    expect(lines([0, 400], 800).map((line) => line.at(-1)?.[0])).toEqual([37.5, 37.5]);
  });

  test('the last goes on into the start of the loop', () => {
    const [, last] = lines([200, 600], 400, [6, 3, 0, 0, 12, 6, 3, 1]);
    expect(last?.map(([, y]) => y)).toEqual([17, 7, 32, 17]);
  });

  test('ends where more is taken away for the next, before that sounds', () => {
    const [first] = lines([0, 600], 800, [9, 6, 3, 0, 4, 8, 9, 6]);
    expect(first?.map(([, y]) => y)).toEqual([47, 32, 17, 2]);
  });

  test('of a loop without hits, values or length are none', () => {
    expect(lines([])).toEqual([]);
    expect(lines([0], 400, [])).toEqual([]);
    expect(lines([0], 0)).toEqual([]);
    expect(hitLengths([100, 300], 800)).toEqual([200, 600]);
  });

  test.each([
    [650, [100, 200, 300, 400, 500, 600]],
    [35, [5, 10, 15, 20, 25, 30, 35]],
    [3, []],
    [0, []],
    [Number.NaN, []],
  ])('over %f ms has lines at round times', (span, expected) => {
    const found = times(span, 100);
    expect(found.map((t) => t.ms)).toEqual(expected);
    expect(found.every((t) => t.x > 0 && t.x <= 100)).toBe(true);
  });
});

test.each([
  [2, 4, 8],
  [1, 3, 3],
  [0, 4, 0],
])('%i bars of %i beats have %i lines', (count, beats, lines) => {
  const found = bars(count, beats, 100);
  expect(found).toHaveLength(lines);
  expect(found.filter((l) => l.bar)).toHaveLength(count);
});

describe('a place', () => {
  const time = { bar_ticks: 3840, beat_ticks: 960 };
  test.each([
    [0, '1.1'],
    [960, '1.2'],
    [3840 + 1920, '2.3'],
    [240, '1.1.25'],
    [959, '1.2'],
    [945, '1.1.98'],
    [3839, '2.1'],
    [10, '1.1.01'],
  ])('of %i ticks reads %s', (ticks, text) => {
    expect(placeText(ticks, time)).toBe(text);
  });
});
