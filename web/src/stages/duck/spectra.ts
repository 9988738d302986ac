/** Spectra of a pair: the key's, the target's with and without the ducker, and what they share. */
import type { PairBand } from '$lib/api/types';

const [LOW_HZ, HIGH_HZ] = [20, 20_000];
/** How far under the loudest band a picture goes, in dB. */
export const RANGE_DB = 54;

/** Where a frequency stands, in pixels. */
export const xOfHz = (hz: number, width: number): number =>
  (Math.log(Math.min(HIGH_HZ, Math.max(LOW_HZ, hz)) / LOW_HZ) / Math.log(HIGH_HZ / LOW_HZ)) * width;

/** The frequency at a place, in Hz. */
export const hzOfX = (x: number, width: number): number =>
  LOW_HZ * (HIGH_HZ / LOW_HZ) ** Math.min(1, Math.max(0, x / Math.max(1, width)));

/** The loudest level of all that is drawn, in dBFS. */
export const loudest = (bands: PairBand[]): number =>
  Math.max(-120, ...bands.flatMap((b) => [b.key_dbfs, b.target_dbfs]));

const yOf = (dbfs: number, top: number, height: number) =>
  Math.min(height, Math.max(0, ((top - dbfs) / RANGE_DB) * height));

/** A step for every band, closed at the bottom. */
export function spectrumPath(
  bands: PairBand[],
  level: (band: PairBand) => number,
  width: number,
  height: number,
): string {
  const top = loudest(bands) + 3;
  const steps = bands.map((band) => {
    const y = yOf(level(band), top, height).toFixed(1);
    return `L${xOfHz(band.from_hz, width).toFixed(1)} ${y}L${xOfHz(band.to_hz, width).toFixed(1)} ${y}`;
  });
  const first = bands[0];
  const last = bands.at(-1);
  if (!first || !last) return '';
  const from = xOfHz(first.from_hz, width).toFixed(1);
  return `M${from} ${height}${steps.join('')}L${xOfHz(last.to_hz, width).toFixed(1)} ${height}Z`;
}

/** Boxes over bands where something is shared: the more of it, the denser. */
export const sharedBoxes = (
  bands: PairBand[],
  width: number,
): { x: number; width: number; part: number }[] => {
  const most = Math.max(1, ...bands.map((b) => b.shared_percent));
  return bands
    .filter((b) => b.shared_percent >= 2)
    .map((b) => {
      const x = xOfHz(b.from_hz, width);
      return { x, width: xOfHz(b.to_hz, width) - x, part: b.shared_percent / most };
    });
};

/** Frequencies with a line. */
export const MARKS_HZ = [50, 100, 200, 500, 1000, 2000, 5000, 10_000];

/** A change in words: "61 to 24 %". */
export const change = ([from, to]: [number, number], digits: number, unit: string): string =>
  from.toFixed(digits) === to.toFixed(digits)
    ? `${to.toFixed(digits)} ${unit}`
    : `${from.toFixed(digits)} to ${to.toFixed(digits)} ${unit}`;

/** What a peak is where nothing sounds, in dBFS. */
const SILENT_DBFS = -149;

/** Whether a peak is none. */
export const isSilent = (dbfs: number): boolean => dbfs <= SILENT_DBFS;

/** A change of a peak in words. */
export const peaks = (both: [number, number]): string =>
  both.every(isSilent) ? 'silence' : change(both, 1, 'dBFS');

/** A loudness in words. */
export const lufs = (value: number): string => (value <= -100 ? 'silence' : `${value.toFixed(1)} LUFS`);
