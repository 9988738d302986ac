/** What each station along a strip does, from a measuring run. */
import type { Processor, StationLevels, Strip, StripLevels } from '$lib/api/types';

export interface StationFigure {
  now: number | undefined;
  /** What this station changed; nothing for the first, or where one of both is silent. */
  change: number | undefined;
}

export interface StationLine {
  name: string;
  /** Loudness in LUFS, sample peak in dBFS, crest in dB. */
  figures: StationFigure[];
}

const figuresOf = (of: StationLevels): (number | undefined)[] => [
  of.lufs ?? undefined,
  of.sample_peak_dbfs ?? undefined,
  of.sample_peak_dbfs === null || of.rms_dbfs === null ? undefined : of.sample_peak_dbfs - of.rms_dbfs,
];

/** Lines in the order of the signal: what comes behind the trim, each processor, the fader. */
export function stationLines(
  levels: StripLevels | undefined,
  strip: Strip,
  nameOf: (processor: Processor) => string,
): StationLine[] {
  if (!levels) return [];
  const named = (of: StationLevels): string | undefined => {
    if (of.station === 'trimmed') return 'trim';
    if (of.station === 'out') return 'fader';
    if (typeof of.station !== 'object' || !('processor' in of.station)) return undefined;
    const { processor } = of.station;
    const at = strip.chain.findIndex((p) => p.id === processor);
    const found = strip.chain[at];
    return found && `${at + 1}. ${nameOf(found)}${found.on ? '' : ' (off)'}`;
  };
  let before: (number | undefined)[] | undefined;
  return levels.stations.flatMap((station) => {
    const name = named(station);
    if (name === undefined) return [];
    const now = figuresOf(station);
    const last = before;
    before = now;
    const change = (x: number | undefined, at: number) => {
      const was = last?.[at];
      return x === undefined || was === undefined ? undefined : x - was;
    };
    return [{ name, figures: now.map((x, at) => ({ now: x, change: change(x, at) })) }];
  });
}
