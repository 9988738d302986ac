import { describe, expect, test } from 'vitest';
import type { BeatShape, ShapePoint } from '$lib/api/types';
import { dice, onDesk } from '$testing/on-desk';
import { added, curvePath, gridOf, moved, pointText, removed, startOf } from './shape';

const desk = onDesk();
const kind = desk.kinds.find((k) => k.default.kind === 'beat_shape');
const shape = kind?.default as BeatShape & { kind: 'beat_shape' };
const starts = kind?.points?.starts ?? [];
const most = kind?.points?.most ?? 0;
const point = (at_percent: number, down_percent: number): ShapePoint => ({
  at_percent,
  down_percent,
  bend_percent: 0,
});
const inOrder = (points: ShapePoint[]) =>
  points.every((p, n) => n === 0 || p.at_percent >= (points[n - 1]?.at_percent ?? 0));

describe('points', () => {
  const three = [point(0, 100), point(40, 50), point(80, 0)];

  test('stay between their neighbours and within the picture', () => {
    expect(moved(three, 1, { at: 95, down: 30 })[1]).toMatchObject({ at_percent: 80, down_percent: 30 });
    expect(moved(three, 1, { at: -4, down: 130 })[1]).toMatchObject({ at_percent: 0, down_percent: 100 });
    expect(moved(three, 2, { at: 120, down: -5 })[2]).toMatchObject({ at_percent: 100, down_percent: 0 });
    expect(moved(three, 0, { at: 12.26, down: 99.6 })[0]).toMatchObject({
      at_percent: 12.5,
      down_percent: 100,
    });
  });

  test('come in where they are put, and not more than there may be', () => {
    expect(added(three, { at: 60, down: 20 }, most)).toEqual([
      [point(0, 100), point(40, 50), point(60, 20), point(80, 0)],
      2,
    ]);
    expect(added(three, { at: 90, down: 20 }, most)?.[1]).toBe(3);
    expect(added(three, { at: 60, down: 20 }, 3)).toBeUndefined();
  });

  test('go but for the last', () => {
    expect(removed(three, 1)).toEqual([point(0, 100), point(80, 0)]);
    expect(removed([point(0, 1)], 0)).toEqual([point(0, 1)]);
  });

  test('whatever is done to them, the session takes them', () => {
    const rolled = dice(17);
    const roll = () => rolled(1000) / 1000;
    let points = shape.points;
    for (let n = 0; n < 400; n += 1) {
      const at = Math.floor(roll() * points.length);
      const place = { at: 120 * roll() - 10, down: 120 * roll() - 10 };
      const choice = roll();
      if (choice < 0.5) points = moved(points, at, place);
      else if (choice < 0.8) points = added(points, place, most)?.[0] ?? points;
      else points = removed(points, at);
      expect(inOrder(points) && points.length <= most && points.length > 0).toBe(true);
    }
    expect(desk.shape({ ...shape, points }, 40)).toHaveLength(41);
  });
});

describe('a shape', () => {
  test('knows the word it began with', () => {
    expect(starts.map(([word]) => word)).toEqual(['quick', 'round', 'late', 'two steps']);
    for (const [word, points] of starts) expect(startOf(points, starts)).toBe(word);
    expect(startOf([point(0, 1)], starts)).toBeUndefined();
  });

  test('is drawn from the core, from 0 dB down', () => {
    const curve = desk.shape({ ...shape, points: [point(0, 0), point(50, 100), point(100, 0)] }, 4);
    const wanted = [0, 0.5, 1, 0.5, 0].map((part) => part * shape.depth_db);
    curve.forEach((db, n) => expect(db).toBeCloseTo(wanted[n] ?? 0, 6));
    expect(curvePath(curve, 100, 54, shape.depth_db)).toBe(
      'M0.0 2.0L25.0 27.0L50.0 52.0L75.0 27.0L100.0 2.0',
    );
    expect(curvePath([], 100, 54, 9)).toBe('');
    expect(curvePath([3], 100, 54, 0)).toBe('M0.0 2.0');
  });

  test('says where its points are', () => {
    expect(pointText(point(25, 50), { ...shape, depth_db: 12, length: '1/4' })).toBe(
      '25 % of 1/4, 6.0 dB down',
    );
  });

  test('stands on a grid of quarters, or of beats and bars', () => {
    expect(gridOf('1/8', 4)).toEqual({ parts: 4, each: 4 });
    expect(gridOf('1 bar', 3)).toEqual({ parts: 3, each: 3 });
    expect(gridOf('4 bars', 4)).toEqual({ parts: 16, each: 4 });
  });
});
