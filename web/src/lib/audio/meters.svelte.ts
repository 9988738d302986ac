/** Levels at the stations of every strip, falling back like a needle, with held peaks. */

/** Values of one strip in a message: peak and RMS, left and right, of three stations. */
const VALUES = 12;
/** How fast a bar falls, in dB per message at about 60 a second. */
const FALL = 10 ** (-0.5 / 20);
/** Messages for which a peak is held before it falls. */
const HOLD = 90;

export const STATIONS = ['source', 'trimmed', 'out'] as const;
export type StationName = (typeof STATIONS)[number];

export interface Level {
  /** Linear, left and right. */
  peak: [number, number];
  rms: [number, number];
  /** Highest peak lately, linear. */
  held: number;
  /** Highest peak since playing began, linear. */
  highest: number;
  age: number;
}

const silent = (): Level => ({ peak: [0, 0], rms: [0, 0], held: 0, highest: 0, age: 0 });

export const dbOf = (gain: number): number => (gain > 0 ? 20 * Math.log10(gain) : -Infinity);

/** Where a level stands on a flat meter from -60 to +6 dB, in 0 to 1. */
export const placeOf = (gain: number): number => Math.min(1, Math.max(0, (dbOf(gain) + 60) / 66));

export class MeterBoard {
  /** Counts up with every reading; what draws levels depends on it. */
  tick = $state(0);
  lufs = $state(-Infinity);
  /** Highest true peak of main since playing began, linear. */
  truePeak = $state(0);
  private strips: number[] = [];
  private levels = new Map<number, Record<StationName, Level>>();
  private quiet = true;

  setStrips(strips: number[]): void {
    this.strips = strips;
    for (const id of strips) {
      if (!this.levels.has(id)) this.levels.set(id, { source: silent(), trimmed: silent(), out: silent() });
    }
  }

  level(strip: number, station: StationName): Level {
    return this.levels.get(strip)?.[station] ?? silent();
  }

  take(values: Float32Array, lufs: number, truePeak: number): void {
    let loudest = 0;
    this.strips.forEach((id, index) => {
      const stations = this.levels.get(id);
      if (!stations) return;
      STATIONS.forEach((name, station) => {
        const at = index * VALUES + station * 4;
        const level = stations[name];
        for (const side of [0, 1] as const) {
          level.peak[side] = Math.max(values[at + side] ?? 0, level.peak[side] * FALL);
          level.rms[side] = values[at + 2 + side] ?? 0;
        }
        const peak = Math.max(level.peak[0], level.peak[1]);
        loudest = Math.max(loudest, peak);
        level.age += 1;
        if (peak >= level.held || level.age > HOLD) [level.held, level.age] = [peak, 0];
        level.highest = Math.max(level.highest, peak);
      });
    });
    // Once everything is still, drawing stops.
    if (loudest < 1e-4 && this.quiet) return;
    this.quiet = loudest < 1e-4;
    this.lufs = lufs;
    this.truePeak = Math.max(this.truePeak, truePeak);
    this.tick += 1;
  }

  clearPeaks(): void {
    this.truePeak = 0;
    for (const stations of this.levels.values()) {
      for (const name of STATIONS) [stations[name].held, stations[name].highest] = [0, 0];
    }
    this.tick += 1;
  }
}
