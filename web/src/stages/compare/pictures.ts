/** Pictures of sides over each other: loudness over time, and octaves. Everything as it is heard, moved to be as loud. */
import type { SideFigures } from '$lib/api/types';

export interface Drawn {
  /** From 0 for now. */
  at: number;
  figures: SideFigures;
  /** By how much it is moved, in dB. */
  offset: number;
}

/** Colours of sides, by their place. */
export const COLOURS = ['var(--good)', 'var(--bass)', 'var(--snare)'] as const;

/** How far a picture reaches down from its top, in dB. */
const DEEP = 30;
/** Room over the loudest, in dB. */
const OVER = 3;

/** The range of dB that a picture shows: from the loudest of all down, in whole tens of its foot. */
export function rangeOf(values: (number | null)[]): { top: number; foot: number } {
  const loudest = Math.max(...values.map((v) => v ?? -Infinity));
  const top = Number.isFinite(loudest) ? Math.ceil((loudest + OVER) / 3) * 3 : 0;
  return { top, foot: top - DEEP };
}

/** A line through values evenly over the width; it breaks where there is silence. */
export function line(
  values: (number | null)[],
  { top, foot }: { top: number; foot: number },
  width: number,
  height: number,
): string {
  const x = (n: number) => (values.length > 1 ? (n / (values.length - 1)) * width : width / 2);
  const y = (db: number) => ((top - Math.max(foot, Math.min(top, db))) / (top - foot)) * height;
  let drawn = '';
  let open = false;
  for (const [n, db] of values.entries()) {
    if (db !== null) drawn += `${open ? 'L' : 'M'}${x(n).toFixed(1)},${y(db).toFixed(1)}`;
    open = db !== null;
  }
  return drawn;
}

export interface Bar {
  x: number;
  y: number;
  width: number;
  height: number;
  at: number;
  db: number;
}

/** Bars of all sides, octave by octave, side by side. */
export function bars(
  sides: Drawn[],
  { top, foot }: { top: number; foot: number },
  width: number,
  height: number,
): Bar[] {
  const count = sides[0]?.figures.octaves.hz.length ?? 0;
  const slot = width / Math.max(1, count);
  const wide = Math.min(14, (slot * 0.7) / Math.max(1, sides.length));
  return sides.flatMap(({ at, figures, offset }, place) =>
    figures.octaves.db.map((level, octave): Bar => {
      const db = level + offset;
      const tall = ((Math.max(foot, Math.min(top, db)) - foot) / (top - foot)) * height;
      const x = slot * octave + (slot - wide * sides.length) / 2 + wide * place;
      return { x, y: height - tall, width: Math.max(1, wide - 1), height: tall, at, db };
    }),
  );
}

/** "31", "63", "1k", "16k". */
export const octaveName = (hz: number): string =>
  hz >= 1000 ? `${Math.round(hz / 1000)}k` : String(Math.round(hz));
