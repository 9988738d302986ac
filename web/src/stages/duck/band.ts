/** What of the sound a ducker works on. */
import type { Settings } from '$lib/api/types';

/** The band in Hz, to where a bell has half its gain in dB or a shelf its corner; nothing for the whole sound. */
export function bandOf(settings: Settings): [number, number] | undefined {
  const around = (hz: number, q: number): [number, number] => {
    const half = 1 / (2 * q);
    const spread = Math.sqrt(1 + half * half);
    return [hz * (spread - half), hz * (spread + half)];
  };
  if (settings.kind === 'equaliser') {
    const band = settings.bands.find((b) => b.range_db < 0);
    if (!band) return undefined;
    if (band.shape === 'low_shelf') return [20, band.freq_hz];
    if (band.shape === 'high_shelf') return [band.freq_hz, 20_000];
    return around(band.freq_hz, band.q);
  }
  if (settings.kind !== 'beat_shape' || settings.band === 'whole') return undefined;
  if (settings.band === 'low') return [20, settings.corner_hz];
  if (settings.band === 'high') return [settings.corner_hz, 20_000];
  return around(settings.corner_hz, settings.q);
}
