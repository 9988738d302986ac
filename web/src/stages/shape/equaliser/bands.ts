/** Bands of an equaliser as screens change them. */
import type { Band, Equaliser, Param } from '$lib/api/types';

export type EqualiserSettings = { kind: 'equaliser' } & Equaliser;

/** The most of a curve that is shown, in dB. */
export const RANGE = 24;

/** Whether a band has a gain that can move. */
export const bends = (band: Band): boolean => ['bell', 'low_shelf', 'high_shelf'].includes(band.shape);
/** Whether a band has a slope. */
export const sloped = (band: Band): boolean => band.shape === 'high_pass' || band.shape === 'low_pass';
/** Whether the level moves a band. */
export const moves = (band: Band): boolean => bends(band) && band.range_db !== 0;

export const withBand = (
  settings: EqualiserSettings,
  at: number,
  change: Partial<Band>,
): EqualiserSettings => ({
  kind: 'equaliser',
  bands: settings.bands.map((band, n) => (n === at ? { ...band, ...change } : band)),
});

export const held = (param: Param, value: number): number => Math.max(param.min, Math.min(param.max, value));
const tenth = (value: number) => Math.round(value * 10) / 10;

/** What lies in a band, and nothing else: a band-pass of its width, or the side that a shelf or a corner is about. */
export function alone(band: Band, rest: Band, freq: Param): EqualiserSettings {
  const pass = (shape: Band['shape'], hz: number): Band => ({
    ...rest,
    shape,
    slope: '24',
    freq_hz: held(freq, hz),
  });
  const width = 2 ** Math.max(0.15, 0.7 / band.q);
  const low = ['low_shelf', 'high_pass'].includes(band.shape);
  const high = ['high_shelf', 'low_pass'].includes(band.shape);
  const bands = low
    ? [pass('low_pass', band.freq_hz)]
    : high
      ? [pass('high_pass', band.freq_hz)]
      : [pass('high_pass', band.freq_hz / width), pass('low_pass', band.freq_hz * width)];
  return { kind: 'equaliser', bands };
}

/** A band whose handle is moved to a place. */
export const movedTo = (band: Band, freq: Param, gain: Param, hz: number, db: number): Partial<Band> => ({
  freq_hz: tenth(held(freq, hz)),
  gain_db: bends(band) ? tenth(held(gain, db)) : band.gain_db,
});

/** A band whose handle is moved by an arrow key, finely with Shift; nothing of other keys. */
export function stepped(
  band: Band,
  freq: Param,
  gain: Param,
  key: string,
  fine: boolean,
): Partial<Band> | undefined {
  const ratio = { ArrowRight: 1, ArrowLeft: -1 }[key];
  const by = { ArrowUp: 1, ArrowDown: -1 }[key];
  if (ratio) return { freq_hz: tenth(held(freq, band.freq_hz * (fine ? 1.005 : 1.03) ** ratio)) };
  if (by) return bends(band) ? { gain_db: tenth(held(gain, band.gain_db + by * (fine ? 0.1 : 0.5))) } : {};
  return undefined;
}

export type BandField =
  'freq_hz' | 'gain_db' | 'q' | 'range_db' | 'threshold_dbfs' | 'attack_ms' | 'release_ms';

/** The values of a band as fields; what moves it stands in a second line, which is there whether it moves or not. */
export const FIELDS: {
  name: BandField;
  digits: number;
  unit?: string;
  /** What it is counted in, and the word behind that. */
  counted?: { in: 'attack_in' | 'release_in'; word: string };
  line: 1 | 2;
  shown: (band: Band) => boolean;
}[] = [
  { name: 'freq_hz', digits: 0, line: 1, shown: () => true },
  { name: 'gain_db', digits: 1, line: 1, shown: bends },
  { name: 'q', digits: 2, unit: 'Q', line: 1, shown: (b) => !(sloped(b) && b.slope !== '12') },
  { name: 'range_db', digits: 1, unit: 'dB moving', line: 2, shown: bends },
  { name: 'threshold_dbfs', digits: 1, unit: 'dBFS on', line: 2, shown: bends },
  { name: 'attack_ms', digits: 1, counted: { in: 'attack_in', word: 'up' }, line: 2, shown: bends },
  { name: 'release_ms', digits: 0, counted: { in: 'release_in', word: 'back' }, line: 2, shown: bends },
];
