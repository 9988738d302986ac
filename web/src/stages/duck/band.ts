/** What of the sound a ducker works on, and another band for it. */
import type { Settings } from '$lib/api/types';

/** A filter's shape, where it stands and how narrow it is. */
interface Part {
  shape: 'bell' | 'low' | 'high';
  hz: number;
  q: number;
}

/** The part of the sound that a ducker works on; nothing for the whole of it. */
function partOf(settings: Settings): Part | undefined {
  if (settings.kind === 'equaliser') {
    const band = settings.bands.find((b) => b.range_db < 0);
    if (!band) return undefined;
    const shape = band.shape === 'low_shelf' ? 'low' : band.shape === 'high_shelf' ? 'high' : 'bell';
    return { shape, hz: band.freq_hz, q: band.q };
  }
  if (settings.kind !== 'beat_shape' || settings.band === 'whole') return undefined;
  const shape = settings.band === 'around' ? 'bell' : settings.band;
  return { shape, hz: settings.corner_hz, q: settings.q };
}

const [LOW_HZ, HIGH_HZ] = [20, 20_000];
/** How wide and how narrow a band that moves can be. */
const Q = { equaliser: [0.1, 40], beat_shape: [0.3, 4] } as const;

/** The band in Hz, to where a bell has half its gain in dB or a shelf its corner; nothing for the whole sound. */
export function bandOf(settings: Settings): [number, number] | undefined {
  const part = partOf(settings);
  if (!part) return undefined;
  if (part.shape === 'low') return [LOW_HZ, part.hz];
  if (part.shape === 'high') return [part.hz, HIGH_HZ];
  const half = 1 / (2 * part.q);
  const spread = Math.sqrt(1 + half * half);
  return [part.hz * (spread - half), part.hz * (spread + half)];
}

/** What of a band can be moved: its middle, its lower end, its upper end. */
export type Grip = 'middle' | 'low' | 'high';

/** The grips of a band: a shelf has its corner alone. */
export function gripsOf(settings: Settings): Grip[] {
  const shape = partOf(settings)?.shape;
  if (shape === undefined) return [];
  return shape === 'bell' ? ['low', 'middle', 'high'] : [shape === 'low' ? 'high' : 'low'];
}

/** Where a grip stands in Hz. */
export function gripHz(settings: Settings, grip: Grip): number {
  const [low = LOW_HZ, high = HIGH_HZ] = bandOf(settings) ?? [];
  return grip === 'low' ? low : grip === 'high' ? high : (partOf(settings)?.hz ?? LOW_HZ);
}

function withPart(settings: Settings, hz: number, q: number): Settings {
  const freq = Math.round(Math.min(HIGH_HZ, Math.max(LOW_HZ, hz)));
  if (settings.kind !== 'equaliser' && settings.kind !== 'beat_shape') return settings;
  const [least, most] = Q[settings.kind];
  const narrow = Math.round(100 * Math.min(most, Math.max(least, q))) / 100;
  if (settings.kind === 'beat_shape') return { ...settings, corner_hz: freq, q: narrow };
  const at = settings.bands.findIndex((b) => b.range_db < 0);
  const bands = settings.bands.map((b, n) => (n === at ? { ...b, freq_hz: freq, q: narrow } : b));
  return { ...settings, bands };
}

/** The same ducker with a grip of its band elsewhere; the ends of a bell move together, around its middle. */
export function withGrip(settings: Settings, grip: Grip, hz: number): Settings {
  const part = partOf(settings);
  if (!part) return settings;
  if (grip === 'middle' || part.shape !== 'bell') return withPart(settings, hz, part.q);
  // From one end to the other lie ratio² times; their difference is the middle by Q.
  const ratio = Math.max(1.01, grip === 'high' ? hz / part.hz : part.hz / hz);
  return withPart(settings, part.hz, 1 / (ratio - 1 / ratio));
}

/** The same ducker at another band; of a shelf its corner goes to the end that it has. */
export function withBand(settings: Settings, [low, high]: [number, number]): Settings {
  const shape = partOf(settings)?.shape;
  if (shape === 'low') return withGrip(settings, 'high', high);
  if (shape === 'high') return withGrip(settings, 'low', low);
  const middle = Math.sqrt(low * high);
  return withPart(settings, middle, middle / (high - low));
}
