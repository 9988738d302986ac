/** Points of a beat shape as they are drawn and moved. */
import type { BeatShape, ShapeLength, ShapePoint } from '$lib/api/types';

const round = (x: number, step: number) => Math.round(x / step) * step;
const within = (x: number, least: number, most: number) => Math.min(most, Math.max(least, x));

/** A point at another place: between its neighbours, by half a per cent and a whole one of depth. */
export function moved(points: ShapePoint[], at: number, place: { at: number; down: number }): ShapePoint[] {
  const least = points[at - 1]?.at_percent ?? 0;
  const most = points[at + 1]?.at_percent ?? 100;
  return points.map((point, n) =>
    n === at
      ? {
          ...point,
          at_percent: within(round(place.at, 0.5), least, most),
          down_percent: within(round(place.down, 1), 0, 100),
        }
      : point,
  );
}

/** A point more, where it is on the line of time; the number of the new one with all of them. */
export function added(
  points: ShapePoint[],
  place: { at: number; down: number },
  most: number,
): [ShapePoint[], number] | undefined {
  if (points.length >= most) return undefined;
  const at_percent = within(round(place.at, 0.5), 0, 100);
  const before = points.findIndex((p) => p.at_percent > at_percent);
  const at = before < 0 ? points.length : before;
  const fresh = { at_percent, down_percent: within(round(place.down, 1), 0, 100), bend_percent: 0 };
  return [[...points.slice(0, at), fresh, ...points.slice(at)], at];
}

/** One less; the last one stays. */
export const removed = (points: ShapePoint[], at: number): ShapePoint[] =>
  points.length > 1 ? points.filter((_, n) => n !== at) : points;

/** The word of the shape that the points are, where it is one to start from. */
export const startOf = (points: ShapePoint[], starts: [string, ShapePoint[]][]): string | undefined =>
  starts.find(([, start]) => JSON.stringify(start) === JSON.stringify(points))?.[0];

/** Lines of a grid over a length: how many parts it falls into, and how many of those are a beat or a bar. */
export function gridOf(length: ShapeLength, beats: number): { parts: number; each: number } {
  const bars = { '1 bar': 1, '2 bars': 2, '4 bars': 4 }[length as '1 bar'];
  return bars ? { parts: bars * beats, each: beats } : { parts: 4, each: 4 };
}

/** What is taken away, hanging from the top; `deep` fills the height, in dB. */
export function curvePath(values: number[], width: number, height: number, deep: number): string {
  const last = Math.max(1, values.length - 1);
  const y = (db: number) => (2 + (deep > 0 ? Math.min(1, db / deep) : 0) * (height - 4)).toFixed(1);
  return values.map((db, n) => `${n === 0 ? 'M' : 'L'}${((n / last) * width).toFixed(1)} ${y(db)}`).join('');
}

/** What a value of a point says. */
export const pointText = (point: ShapePoint, shape: BeatShape): string =>
  `${point.at_percent} % of ${shape.length}, ${((point.down_percent / 100) * shape.depth_db).toFixed(1)} dB down`;
