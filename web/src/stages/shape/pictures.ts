/** Lines of the pictures of processors, from what the core computes. */
import type { Settings } from '$lib/api/types';
import type { Desk } from '$lib/audio/desk';

export const [LOW_HZ, HIGH_HZ] = [20, 20000];
/** Where a frequency stands on a scale by ratios, in 0 to 1, and back. */
export const placeOfHz = (hz: number): number => Math.log(hz / LOW_HZ) / Math.log(HIGH_HZ / LOW_HZ);
export const hzOfPlace = (x: number): number => LOW_HZ * (HIGH_HZ / LOW_HZ) ** x;
export const freqs = (points: number): number[] =>
  Array.from({ length: points + 1 }, (_, n) => hzOfPlace(n / points));

/** A line through points. */
export const line = (points: [number, number][]): string =>
  points.map(([x, y], n) => `${n === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('');

export const hz = (x: number): string => (x < 1000 ? `${Math.round(x)} Hz` : `${(x / 1000).toFixed(1)} kHz`);

/** A small picture of a processor in a box: its curve where it has one, else what it does to a hit. */
export function outline(desk: Desk, settings: Settings, width: number, height: number): string | undefined {
  const middle = height / 2;
  const held = (y: number) => Math.max(1, Math.min(height - 1, y));
  switch (settings.kind) {
    case 'equaliser': {
      const at = freqs(32);
      const { rest } = desk.curve({ bands: settings.bands }, at);
      return line(rest.map((db, n) => [(n / 32) * width, held(middle - (db / 18) * middle)]));
    }
    case 'compressor':
    case 'gate':
    case 'limiter':
    case 'clipper':
    case 'saturation': {
      const levels = Array.from({ length: 25 }, (_, n) => -60 + 2.5 * n);
      const out = desk.transfer(settings, levels);
      return line(out.map((db, n) => [(n / 24) * width, held(height - (((db ?? -60) + 60) / 60) * height)]));
    }
    case 'transient': {
      const start = 0.75 * height * 10 ** (settings.attack_db / 40);
      const ring = 0.35 * height * 10 ** (settings.sustain_db / 40);
      return line([
        [1, height - 1],
        [3, held(height - start)],
        [width * 0.3, held(height - ring)],
        [width, height - 1],
      ]);
    }
    case 'reverb': {
      const seconds = Math.min(1, settings.decay_s / 4);
      return line([
        [1, 2],
        [Math.max(4, width * seconds), height - 1],
        [width, height - 1],
      ]);
    }
    default:
      return undefined;
  }
}
