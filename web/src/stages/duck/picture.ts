/** Geometry of the picture of a ducker. */
import type { Timeline } from '$lib/api/types';

const STEP_DB = 6;
const LEAST_DB = 12;

/** How deep a picture has to go for a depth, in dB: whole steps, with some room under it. */
export const scaleOf = (depth_db: number): number =>
  Math.max(LEAST_DB, STEP_DB * Math.ceil((depth_db + 1) / STEP_DB));

/** Lines of bars and beats. */
export function bars(count: number, beats: number, width: number): { x: number; bar: boolean }[] {
  const all = Math.max(0, Math.round(count * beats));
  return Array.from({ length: all }, (_, n) => ({ x: (n / all) * width, bar: n % beats === 0 }));
}

/** What is taken away, hanging from the top of a part of the picture. */
export function reductionLine(values: number[], width: number, height: number, deep: number): string {
  const y = (db: number) => (2 + Math.min(1, db / deep) * (height - 2)).toFixed(1);
  const points = values.map((db, n) => `${(((n + 0.5) / values.length) * width).toFixed(1)} ${y(db)}`);
  const [first, last] = [values[0], values.at(-1)];
  if (first === undefined || last === undefined) return `M0 2H${width}`;
  return `M0 ${y(first)}L${points.join('L')}L${width} ${y(last)}`;
}

/**
 * Peaks as a band around a middle line.
 *
 * * `loudest` – the peak that fills the band.
 */
export function waveBand(
  peaks: number[],
  width: number,
  middle: number,
  half: number,
  loudest: number,
): string {
  if (peaks.length === 0) return '';
  const x = (n: number) => (((n + 0.5) / peaks.length) * width).toFixed(1);
  const off = (peak: number) => (loudest > 0 ? Math.min(1, peak / loudest) * half : 0);
  const top = peaks.map((peak, n) => `${x(n)} ${(middle - off(peak)).toFixed(1)}`);
  const bottom = peaks.map((peak, n) => `${x(n)} ${(middle + off(peak)).toFixed(1)}`).reverse();
  return `M${top.join('L')}L${bottom.join('L')}Z`;
}

/** Frames from each hit to the next; after the last comes the first again. */
export const hitLengths = (hits: number[], frames: number): number[] =>
  hits.map((at, n) => (hits[n + 1] ?? (hits[0] ?? 0) + frames) - at);

/**
 * A line for every hit, all from the same left edge: what is taken away from it on, until more is taken away for the next.
 *
 * * `hits` – frames from the start of the loop.
 * * `span` – frames that the picture is wide.
 */
export function hitLines(
  values: number[],
  hits: number[],
  frames: number,
  span: number,
  width: number,
  height: number,
  deep: number,
): string[] {
  if (values.length === 0 || frames <= 0 || span <= 0) return [];
  const lengths = hitLengths(hits, frames);
  const place = (frame: number) => Math.floor((frame / frames) * values.length);
  return hits.map((at, n) => {
    const [from, to] = [place(at), place(at + (lengths[n] ?? 0))];
    const db = Array.from(
      { length: Math.max(1, to - from) },
      (_, step) => values[(from + step) % values.length] ?? 0,
    );
    // A lookahead lets the next hit begin before it sounds.
    while (db.length > 2 && (db.at(-1) ?? 0) > (db.at(-2) ?? 0) + 0.05) db.pop();
    const points = db.map((x, step) => {
      const right = (((step / values.length) * frames) / span) * width;
      return `${right.toFixed(1)} ${(2 + Math.min(1, x / deep) * (height - 2)).toFixed(1)}`;
    });
    return `M${points.join('L')}`;
  });
}

/** Lines of time: about six of them, at a round number of ms. */
export function times(span_ms: number, width: number): { x: number; ms: number }[] {
  if (!(span_ms > 0)) return [];
  const step = [5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((ms) => span_ms / ms <= 7) ?? 10_000;
  return Array.from({ length: Math.floor(span_ms / step) }, (_, n) => {
    const ms = (n + 1) * step;
    return { x: (ms / span_ms) * width, ms };
  });
}

/** A place in the song: bar, beat, and parts of a beat in hundredths where it is off. */
export function placeText(
  ticks: number,
  { bar_ticks, beat_ticks }: Pick<Timeline, 'bar_ticks' | 'beat_ticks'>,
): string {
  // To the nearest hundredth of a beat.
  const all = Math.round((100 * ticks) / beat_ticks);
  const beats = Math.floor(all / 100);
  const inBar = Math.round(bar_ticks / beat_ticks);
  const off = all % 100 === 0 ? '' : `.${String(all % 100).padStart(2, '0')}`;
  return `${Math.floor(beats / inBar) + 1}.${(beats % inBar) + 1}${off}`;
}
