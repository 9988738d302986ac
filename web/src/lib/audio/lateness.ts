/**
 * Whether sound breaks since blocks come late. Browsers that count how often say it themselves (Web Audio API, statistics of
 * playback); of others, the output's own clock says it: what was not there in time is not played, so the sound's time falls
 * behind the computer's by as much. A page that is busy itself sees both too, only later.
 */

/** When the output is, in s of sound and ms of the page: one instant, as `getOutputTimestamp` gives it. */
export interface OutputTime {
  contextTime?: number;
  performanceTime?: number;
}

/** The output of a page, as far as a browser tells of it. */
export interface Output {
  getOutputTimestamp(): OutputTime;
  playbackStats?: { underrunEvents: number };
}

/** Falling behind by less between two looks is how the clocks are told, in s. */
const LATE_S = 0.015;
/** Looks that lie further apart tell nothing: the computer slept, or the output was taken away. */
const APART_MS = 5000;
/** Breaks within so many ms of each other belong together … */
const TOGETHER_MS = 10_000;
/** … and so many of them are said. */
const SAID = 3;

export class Lateness {
  private last: { sound: number; at: number; counted: number } | undefined;
  private breaks: number[] = [];

  /** Looks at the clocks; says whether sound broke since the last look. */
  look(output: Output): boolean {
    const { contextTime = 0, performanceTime = 0 } = output.getOutputTimestamp();
    const { last } = this;
    const counted = output.playbackStats?.underrunEvents ?? 0;
    const now = { sound: contextTime, at: performanceTime, counted };
    // Before it sounds, the output has no time.
    if (contextTime <= 0 || performanceTime <= 0) return this.forget();
    this.last = now;
    if (!last || now.at - last.at > APART_MS || now.at < last.at || now.sound < last.sound) return false;
    const behind = (now.at - last.at) / 1000 - (now.sound - last.sound);
    if (behind < LATE_S && counted <= last.counted) return false;
    this.breaks = [...this.breaks, now.at].slice(-SAID);
    return true;
  }

  /** Whether it breaks again and again at a moment, in ms of the page. */
  strained(at: number): boolean {
    return this.breaks.length === SAID && this.breaks.every((b) => at - b < TOGETHER_MS);
  }

  /** Sound was stopped: what follows has nothing to do with what was. */
  forget(): boolean {
    this.last = undefined;
    return false;
  }
}
