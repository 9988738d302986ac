/** Lines of the pictures of processors, from what the core computes. */
import type { KindInfo, Processor, Settings } from '$lib/api/types';
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

type Kind = Settings['kind'];

/** Kinds whose level out is a curve over the level in. */
const CURVED: readonly Kind[] = ['compressor', 'gate', 'limiter', 'clipper', 'saturation'];
/** Kinds that change the shape of a hit. */
const HITS: readonly Kind[] = ['transient', 'clipper', 'saturation', 'limiter', 'crush', 'enhancer'];
/** Kinds with a picture of their own. */
const OWN: readonly Kind[] = ['reverb', 'delay', 'envelope_filter', 'beat_shape'];

/** Which pictures a kind has. */
export function shows(kind: KindInfo): { transfer: boolean; hit: boolean; history: boolean } {
  const { kind: word } = kind.default;
  return {
    transfer: CURVED.includes(word),
    hit: HITS.includes(word),
    history: kind.reduces && word !== 'limiter',
  };
}

/** Whether there is anything to see of a kind. */
export const hasPictures = (kind: KindInfo): boolean =>
  OWN.includes(kind.default.kind) || Object.values(shows(kind)).some(Boolean);

/** The level that nothing passes, in dBFS, where there is one. */
export function ceilingOf(settings: Settings): number | undefined {
  if (settings.kind === 'clipper') return settings.ceiling_dbfs;
  return settings.kind === 'limiter' ? settings.ceiling_dbtp : undefined;
}

/** Steps of a quantiser drawn at most, so that they can be told apart. */
const STEPS = 9;

/** A small picture of a processor in a box: its curve where it has one, else what it does to a hit. */
export function outline(
  desk: Desk,
  { settings, mix_percent }: Pick<Processor, 'settings' | 'mix_percent'>,
  width: number,
  height: number,
): string {
  const middle = height / 2;
  const held = (y: number) => Math.max(1, Math.min(height - 1, y));
  switch (settings.kind) {
    case 'equaliser':
    case 'envelope_filter': {
      const curves = desk.curve(settings, freqs(32), mix_percent);
      const of = (curve: number[]) =>
        line(curve.map((db, n) => [(n / 32) * width, held(middle - (db / 18) * middle)]));
      return of((settings.kind === 'equaliser' ? curves?.rest : curves?.moved) ?? []);
    }
    case 'beat_shape': {
      const curve = desk.shape(settings, 24);
      const deep = Math.max(1, settings.depth_db);
      return line(curve.map((db, n) => [(n / 24) * width, held((db / deep) * height)]));
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
    case 'delay': {
      const strokes = desk.echoes(settings).map(({ at_s, level_db, side }) => {
        const x = 1 + (at_s / 2) * (width - 2);
        const long = (1 + level_db / 60) * (side === 0 ? height - 2 : middle - 1);
        const from = side === 0 ? height - 1 : middle;
        return x < width ? `M${x.toFixed(1)} ${from}V${(from + (side > 0 ? long : -long)).toFixed(1)}` : '';
      });
      return strokes.join('');
    }
    case 'enhancer': {
      // The sound, then what is added over it: harmonics of the lows, harmonics of the highs.
      const bars = [100, settings.low_percent, settings.low_percent * 0.4, 0];
      bars.push(100, settings.high_percent, settings.high_percent * 0.4);
      const at = (n: number) => ((n + 0.5) / bars.length) * width;
      return bars
        .map((percent, n) =>
          percent > 0 ? `M${at(n).toFixed(1)} ${height - 1}v${(-percent * (height - 2)) / 100}` : '',
        )
        .join('');
    }
    case 'crush': {
      const steps = Math.min(STEPS, 2 ** Math.min(24, settings.bits));
      const count = Math.max(2, Math.round((steps * Math.max(20, settings.rate_percent)) / 100));
      const stairs = Array.from({ length: count }, (_, n) => {
        const y = held(height - 1 - (n / (count - 1)) * (height - 2)).toFixed(1);
        return `${n === 0 ? 'M0' : 'V'}${n === 0 ? ` ${y}` : y}H${(((n + 1) / count) * width).toFixed(1)}`;
      });
      return stairs.join('');
    }
    case 'stereo_image': {
      // As broad as it leaves the sound, as high as it leaves it loud.
      const broad = (Math.min(200, settings.width_percent) / 200) * (width / 2 - 1);
      const high = held(height - 1 - middle * 10 ** (settings.gain_db / 40));
      return `M${width / 2 - broad} ${high}L${width / 2} ${height - 1}L${width / 2 + broad} ${high}`;
    }
  }
}
