/** Kinds of duckers, and one that becomes another: what means the same is kept. */
import type { Band, PairFigures, Settings, TimeIn } from '$lib/api/types';
import { noteMs } from './notes';

export const DUCK_KINDS = [
  { id: 'whole', name: 'The whole sound', word: 'compressor' },
  { id: 'band', name: 'One band', word: 'equaliser' },
  { id: 'shape', name: 'A shape', word: 'beat_shape' },
  { id: 'gate', name: 'Opened by the key', word: 'gate' },
  { id: 'expander', name: 'Opened in part', word: 'gate' },
  { id: 'filter', name: 'A filter that moves', word: 'envelope_filter' },
] as const;
export type DuckKind = (typeof DUCK_KINDS)[number]['id'];

/** A gate of a smaller ratio is an expander. */
const WHOLE_RATIO = 100;

/** Which kind of ducker some settings are; nothing for a processor that is none. */
export function duckKind(settings: Settings): DuckKind | undefined {
  switch (settings.kind) {
    case 'compressor':
      return 'whole';
    case 'equaliser':
      return 'band';
    case 'beat_shape':
      return 'shape';
    case 'gate':
      return settings.ratio < WHOLE_RATIO ? 'expander' : 'gate';
    case 'envelope_filter':
      return 'filter';
    default:
      return undefined;
  }
}

interface Times {
  attack_ms?: number;
  hold_ms?: number;
  release_ms?: number;
  lookahead_ms?: number;
  attack_in?: TimeIn;
  hold_in?: TimeIn;
  release_in?: TimeIn;
}

const round = (x: number) => Math.round(x * 10) / 10;
const within = (x: number, least: number, most: number) => Math.min(most, Math.max(least, x));

type UpAndBack = Pick<Band, 'attack_ms' | 'release_ms' | 'attack_in' | 'release_in'>;
const upAndBack = ({ attack_in, release_in, ...set }: UpAndBack, bpm: number): Times => ({
  attack_ms: noteMs(attack_in, bpm) ?? set.attack_ms,
  release_ms: noteMs(release_in, bpm) ?? set.release_ms,
  ...{ attack_in, release_in },
});
/** What has an attack and a release alone, with others. */
const withUpAndBack = <T extends UpAndBack>(of: T, times: Times): T => ({
  ...of,
  attack_ms: within(times.attack_ms ?? of.attack_ms, 0.1, 250),
  release_ms: within(times.release_ms ?? of.release_ms, 5, 2500),
  attack_in: times.attack_in ?? of.attack_in,
  release_in: times.release_in ?? of.release_in,
});

/** The times of a ducker that others have as well. */
function timesOf(settings: Settings, bpm: number): Times {
  switch (settings.kind) {
    case 'compressor':
    case 'gate': {
      const { lookahead_ms, attack_in, hold_in, release_in } = settings;
      return {
        attack_ms: noteMs(attack_in, bpm) ?? settings.attack_ms,
        hold_ms: noteMs(hold_in, bpm) ?? settings.hold_ms,
        release_ms: noteMs(release_in, bpm) ?? settings.release_ms,
        ...{ lookahead_ms, attack_in, hold_in, release_in },
      };
    }
    case 'envelope_filter':
      return upAndBack(settings, bpm);
    case 'equaliser': {
      const band = settings.bands.find((b) => b.range_db !== 0);
      return band ? upAndBack(band, bpm) : {};
    }
    default:
      return {};
  }
}

/** Settings with other times, those that they have. */
function withTimes(settings: Settings, times: Times): Settings {
  switch (settings.kind) {
    case 'compressor':
    case 'gate': {
      const hold = settings.kind === 'gate' ? 1000 : 500;
      const { attack_ms, hold_ms, release_ms, ...rest } = times;
      return {
        ...settings,
        ...(attack_ms === undefined ? {} : { attack_ms: within(attack_ms, 0.02, 250) }),
        ...(hold_ms === undefined ? {} : { hold_ms: Math.min(hold, hold_ms) }),
        ...(release_ms === undefined ? {} : { release_ms: within(release_ms, 1, 2500) }),
        ...rest,
      };
    }
    case 'equaliser':
      return {
        ...settings,
        bands: settings.bands.map((b) => (b.range_db === 0 ? b : withUpAndBack(b, times))),
      };
    case 'envelope_filter':
      return withUpAndBack(settings, times);
    default:
      return settings;
  }
}

/** As it was set before as another kind, with the times that it has now where they were changed. */
export function goesBack(before: Settings, now: Settings, bpm: number): Settings {
  const untouched = withTimes(now, timesOf(before, bpm));
  const same = JSON.stringify(untouched) === JSON.stringify(now);
  return same ? before : withTimes(before, timesOf(now, bpm));
}

/** The band that holds most of what a pair shares, in Hz. */
export function sharedBand(pair: PairFigures | undefined): [number, number] | undefined {
  const bands = pair?.bands.filter((b) => b.shared_percent >= 10) ?? [];
  const [first, last] = [bands[0], bands.at(-1)];
  return first && last ? [first.from_hz, last.to_hz] : undefined;
}

/**
 * A ducker as another kind.
 *
 * * `plain` – that kind as it begins.
 * * `depth_db` – how deep it goes.
 * * `bpm` – the tempo, for times in notes.
 */
export function turned(
  settings: Settings,
  to: DuckKind,
  plain: Settings,
  depth_db: number,
  bpm: number,
  pair?: PairFigures,
): Settings {
  const times = timesOf(settings, bpm);
  switch (plain.kind) {
    case 'beat_shape':
      return { ...plain, depth_db: round(within(depth_db, 1, 60)) };
    case 'gate':
      return withTimes(
        { ...plain, ratio: to === 'expander' ? 2 : WHOLE_RATIO, range_db: round(within(depth_db, 1, 100)) },
        times,
      );
    case 'equaliser': {
      const [from, upTo] = sharedBand(pair) ?? [50, 200];
      const freq_hz = Math.round(Math.sqrt(from * upTo));
      const band = {
        freq_hz,
        gain_db: 0,
        q: Math.round(100 * within(freq_hz / (upTo - from), 0.4, 4)) / 100,
        range_db: -round(within(depth_db, 1, 24)),
        threshold_dbfs: -40,
        attack_ms: 2,
        release_ms: 90,
        attack_in: 'ms' as const,
        release_in: 'ms' as const,
        shape: 'bell' as const,
        slope: '12' as const,
        switch: 'on' as const,
      };
      return withTimes({ ...plain, bands: [band] }, times);
    }
    case 'compressor':
      return withTimes({ ...plain, attack_ms: 2, release_ms: 90 }, times);
    case 'envelope_filter':
      // Open, and shut down by the key.
      return withTimes({ ...plain, cutoff_hz: 8000, amount_oct: -3, pass: 'low_pass' }, times);
    default:
      return plain;
  }
}
