/** The matrix of keys and what they duck, in words. */
import type { Ducker, Session, Settings } from '$lib/api/types';
import { BEAT } from '$lib/state/duckers';

/** What a key cannot do for a reason, in a word; nothing where it sounds. */
export function keyState(doc: Session, source: number): string {
  if (source === BEAT) return '';
  const strip = doc.strips.find((s) => s.id === source);
  if (!strip) return 'gone';
  if (strip.kind === 'trigger') return 'trigger';
  if (strip.mute) return 'muted';
  return strip.output === null && strip.kind !== 'main' ? 'goes nowhere' : '';
}

export type Tone = 'good' | 'look' | 'second';

export interface Words {
  text: string;
  tone: Tone;
  /** The worst first: the lower the worse. */
  rank: number;
}

const hits = (count: number) => (count === 1 ? 'one hit' : `${count} hits`);

/** How a ducker recovers, in words. */
export function recovery({ figures, keyed, sounds }: Ducker): Words {
  if (!keyed) return { text: 'its key is silent here', tone: 'look', rank: 1 };
  if (!sounds) return { text: 'nothing to duck here', tone: 'second', rank: 8 };
  if (figures.depth_db < 0.05) return { text: 'takes nothing away', tone: 'look', rank: 2 };
  if (figures.opening) {
    const { opened, hits: all, open_ms } = figures.opening;
    if (opened === 0) return { text: 'never opens', tone: 'look', rank: 0 };
    const of = opened < all ? ` on ${opened} of ${hits(all)}` : '';
    return { text: `open for ${Math.round(open_ms)} ms${of}`, tone: 'good', rank: 5 };
  }
  if (figures.stuck) return { text: 'is never back', tone: 'look', rank: 0 };
  const left = figures.recovery_ms;
  if (figures.late > 0 && left !== null)
    return {
      text: `late by ${Math.round(-left)} ms on ${hits(figures.late)}`,
      tone: 'look',
      rank: 0.9 - 0.8 * Math.min(1, -left / 5000),
    };
  if (left === null) return { text: 'under 1 dB', tone: 'second', rank: 7 };
  return { text: `back ${Math.round(left)} ms early`, tone: 'good', rank: 5 + Math.min(1, left / 5000) };
}

/** The worst of some. */
export const worst = (all: Words[]): Words | undefined => all.toSorted((a, b) => a.rank - b.rank)[0];

/** Whether what it does is counted in octaves of a filter, and not in dB. */
export const inOctaves = (settings: Settings): boolean => settings.kind === 'envelope_filter';

/** How deep as a figure of gain, 0.0 for nothing; of a filter in octaves. */
export function depthText(db: number, settings?: Settings): string {
  if (settings && inOctaves(settings)) return `${(db / 12).toFixed(1)} oct`;
  return db < 0.05 ? '0.0' : `-${db.toFixed(1)}`;
}

/** The same with its unit. */
export const depthSaid = (db: number, settings: Settings): string =>
  inOctaves(settings) ? depthText(db, settings) : `${depthText(db)} dB`;

/** As deep as a kind goes: to hear what it works on. */
export function exaggerated(settings: Settings): Settings {
  const lower = (db: number) => Math.max(-80, db - 24);
  switch (settings.kind) {
    case 'compressor':
      return { ...settings, threshold_dbfs: lower(settings.threshold_dbfs), ratio: 100, range_db: 60 };
    case 'gate':
      return { ...settings, ratio: 100, range_db: 100 };
    case 'equaliser':
      return {
        ...settings,
        bands: settings.bands.map((b) =>
          b.range_db < 0 ? { ...b, range_db: -24, threshold_dbfs: lower(b.threshold_dbfs) } : b,
        ),
      };
    case 'beat_shape':
      return { ...settings, depth_db: 60 };
    case 'envelope_filter':
      return { ...settings, amount_oct: settings.amount_oct > 0 ? 8 : -8 };
    default:
      return settings;
  }
}
