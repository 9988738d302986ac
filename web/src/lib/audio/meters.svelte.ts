/** Levels at the stations of every strip, falling back like a needle, with held peaks. */

import type { MeterLayout } from '$lib/api/types';
import { Painter } from './painter';

/** Values of a station in a message: peak and RMS, left and right. A processor has its reduction behind them. */
const STATION = 4;
/** Readings with sound before and none behind it after which a gate counts as shut; half a second. */
const SHUT = 30;
/** How fast a bar falls, in dB per message at about 60 a second. */
const FALL = 10 ** (-0.5 / 20);
/** Messages of a span: peaks are held from the beginning of the span before to now, the same of all stations, so that
 *  they can be set against each other. */
const SPAN = 90;

export const STATIONS = ['source', 'trimmed', 'out'] as const;
export type StationName = (typeof STATIONS)[number];

export interface Level {
  /** Linear, left and right. */
  peak: [number, number];
  rms: [number, number];
  /** Highest peak lately, linear: of this span and of the one before. */
  held: number;
  spans: [number, number];
  /** Highest peak since peaks were cleared, linear. */
  highest: number;
}

export interface ProcessorLevel extends Level {
  /** The most taken away lately, in dB, falling back like a needle. */
  reduction: number;
  /** The most taken away since peaks were cleared, in dB. */
  deepest: number;
  /** Readings in which sound came and none went on. */
  swallowed: number;
  /** Whether anything went on since playing began. */
  passed: boolean;
}

const silent = (): Level => ({ peak: [0, 0], rms: [0, 0], held: 0, spans: [0, 0], highest: 0 });

const letGo = (level: Level): void => void ([level.held, level.spans] = [0, [0, 0]]);

export const dbOf = (gain: number): number => (gain > 0 ? 20 * Math.log10(gain) : -Infinity);

/** Where a level stands on a flat meter from -60 to +6 dB, in 0 to 1. */
export const placeOf = (gain: number): number => Math.min(1, Math.max(0, (dbOf(gain) + 60) / 66));

/** Readings between two changes of what is written in figures: about eight a second, as fast as figures are read. */
const FIGURES = 8;

export class MeterBoard {
  /** Counts up with every reading; pictures that move with the sound depend on it. */
  tick = $state(0);
  /** Counts up a few times a second; figures depend on it. */
  slow = $state(0);
  /** What draws bars. */
  readonly painter = new Painter(placeOf);
  lufs = $state(-Infinity);
  /** Highest true peak of main since playing began, linear. */
  truePeak = $state(0);
  private layout: MeterLayout[] = [];
  private levels = new Map<number, Record<StationName, Level>>();
  private processors = new Map<number, ProcessorLevel>();
  private quiet = true;
  /** Messages of this span so far. */
  private age = 0;

  setLayout(layout: MeterLayout[]): void {
    this.layout = layout;
    for (const { strip, processors } of layout) {
      if (!this.levels.has(strip))
        this.levels.set(strip, { source: silent(), trimmed: silent(), out: silent() });
      for (const id of processors) {
        const known = this.processors.get(id) ?? { ...silent(), reduction: 0, deepest: 0 };
        this.processors.set(id, { ...known, swallowed: 0, passed: false });
      }
    }
  }

  /** Main's strip; what comes out of it is held as the true peak since playing began. */
  get main(): number | undefined {
    return this.layout.at(-1)?.strip;
  }

  level(strip: number, station: StationName): Level {
    return this.levels.get(strip)?.[station] ?? silent();
  }

  processor(id: number): ProcessorLevel {
    return this.processors.get(id) ?? { ...silent(), reduction: 0, deepest: 0, swallowed: 0, passed: false };
  }

  /** Processors that swallowed everything since playing began. */
  get shut(): number[] {
    return [...this.processors].filter(([, p]) => !p.passed && p.swallowed > SHUT).map(([id]) => id);
  }

  /** Reads the next values into a level; gives its peak of this moment. */
  private read(level: Level, values: Float32Array, at: number): number {
    let now = 0;
    for (const side of [0, 1] as const) {
      const peak = values[at + side] ?? 0;
      now = Math.max(now, peak);
      level.peak[side] = Math.max(peak, level.peak[side] * FALL);
      level.rms[side] = values[at + 2 + side] ?? 0;
    }
    const peak = Math.max(level.peak[0], level.peak[1]);
    if (this.age === 0) level.spans = [0, level.spans[0]];
    level.spans[0] = Math.max(level.spans[0], peak);
    level.held = Math.max(...level.spans);
    level.highest = Math.max(level.highest, peak);
    return now;
  }

  take(values: Float32Array, lufs: number, truePeak: number): void {
    let loudest = 0;
    let at = 0;
    this.age = (this.age + 1) % SPAN;
    for (const { strip, processors } of this.layout) {
      const stations = this.levels.get(strip);
      if (!stations) continue;
      let before = 0;
      for (const name of STATIONS) {
        const peak = this.read(stations[name], values, at);
        if (name === 'trimmed') before = peak;
        loudest = Math.max(loudest, stations[name].peak[0], stations[name].peak[1]);
        at += STATION;
      }
      for (const id of processors) {
        const level = this.processors.get(id);
        if (level) {
          const after = this.read(level, values, at);
          level.deepest = Math.max(values[at + STATION] ?? 0, level.deepest);
          level.reduction = Math.max(values[at + STATION] ?? 0, level.reduction - 0.5);
          if (before > 0.001 && after < before * 1e-4) level.swallowed += 1;
          else if (after > 0) level.passed = true;
          before = after;
        }
        at += STATION + 1;
      }
    }
    // Once everything is still, drawing stops.
    if (loudest < 1e-4 && this.quiet) return;
    this.quiet = loudest < 1e-4;
    if (this.quiet) this.slow += 1;
    this.lufs = lufs;
    this.truePeak = Math.max(this.truePeak, truePeak);
    // One figure of main everywhere: its row holds what the header says.
    const main = this.main === undefined ? undefined : this.levels.get(this.main);
    if (main) main.out.held = this.truePeak;
    this.tick += 1;
    if (this.tick % FIGURES === 0) this.slow += 1;
    this.painter.changed();
  }

  /** Playing begins anew: held peaks fall, latched overloads stay. */
  restart(): void {
    this.truePeak = 0;
    for (const stations of this.levels.values()) for (const name of STATIONS) letGo(stations[name]);
    for (const level of this.processors.values()) {
      letGo(level);
      [level.swallowed, level.passed] = [0, false];
    }
  }

  clearPeaks(): void {
    this.truePeak = 0;
    for (const stations of this.levels.values()) {
      for (const name of STATIONS) {
        letGo(stations[name]);
        stations[name].highest = 0;
      }
    }
    for (const level of this.processors.values()) {
      letGo(level);
      [level.highest, level.deepest, level.swallowed, level.passed] = [0, 0, 0, false];
    }
    this.tick += 1;
    this.slow += 1;
    this.painter.changed();
  }
}
