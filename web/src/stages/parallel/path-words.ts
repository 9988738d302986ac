/** What is said of parallel paths, in words with figures. */
import type { Alignment, Blend, MainFigures, Session, Strip } from '$lib/api/types';

export type Tone = 'good' | 'look' | 'second';

export interface Said {
  text: string;
  tone: Tone;
}

const count = (frames: number) => `${frames} sample${frames === 1 ? '' : 's'}`;

/** Whole frames by which the second of two sounds comes later. */
export const wholeFrames = (of: Alignment): number => Math.round(of.delay_frames) || 0;

/** "37 samples late, inverted": how a sound lies against another. */
export function alignmentSaid(of: Alignment): Said {
  const frames = wholeFrames(of);
  switch (of.verdict) {
    case 'silent':
      return { text: 'silent in the loop', tone: 'second' };
    case 'unrelated':
      return { text: `nothing in common: correlation ${of.correlation.toFixed(2)}`, tone: 'second' };
    case 'space':
      return { text: 'room or echo, never late', tone: 'second' };
    case 'in_time':
      return { text: 'in time, in polarity', tone: 'good' };
    case 'off': {
      const parts = [
        ...(frames > 0 ? [`${count(frames)} late`] : frames < 0 ? [`${count(-frames)} early`] : []),
        ...(of.inverted ? ['inverted'] : []),
      ];
      return { text: parts.join(', '), tone: 'look' };
    }
  }
}

/** The short form of it, for the head of a column. */
export function alignmentShort(of: Alignment): Said {
  if (of.verdict === 'in_time') return { text: 'in time', tone: 'good' };
  if (of.verdict === 'unrelated') return { text: 'nothing in common', tone: 'second' };
  if (of.verdict === 'space') return { text: 'room or echo', tone: 'second' };
  if (of.verdict === 'silent') return { text: 'silent', tone: 'second' };
  return alignmentSaid(of);
}

/** By how much a figure of main is higher with a return than without. */
export function difference(blend: Blend, figure: keyof MainFigures): number | undefined {
  const [a, b] = [blend.with[figure], blend.without[figure]];
  return a === null || b === null ? undefined : a - b;
}

/** "+0.4", "-1.5", "0.0"; never a zero with a sign. */
export const signed = (x: number | undefined, digits = 1): string => {
  if (x === undefined) return '–';
  const text = x.toFixed(digits).replace(/^-(0(\.0+)?)$/, '$1');
  return x > 0 && !/^0(\.0+)?$/.test(text) ? `+${text}` : text;
};

/** What raising a return brings, in a sentence. */
export function blendSaid(blend: Blend): string {
  if (blend.fader_db <= -100) return 'Off: raise the blend, and main is the same until then.';
  const [lufs, peak] = [difference(blend, 'lufs'), difference(blend, 'sample_peak_dbfs')];
  if (lufs === undefined || peak === undefined) return 'Main is silent in the loop.';
  const dearer = `${signed(peak)} dB of peak`;
  if (lufs >= 0.05) return `Fuller by ${lufs.toFixed(1)} LU for ${dearer}.`;
  if (lufs <= -0.05) return `Thinner by ${(-lufs).toFixed(1)} LU, ${dearer}: does it lie off?`;
  return `As loud as without, ${dearer}.`;
}

/** How soon half of what hits take away is gone. */
export const backSaid = (beats: number | null): string =>
  beats === null ? 'not back between hits' : `${beats.toFixed(2)} of a beat`;

/** Whether two states of a session sound the same but for the fader of one strip. */
export function sameButFader(a: Session, b: Session, strip: number): boolean {
  if (a === b) return true;
  const lists = ['voices', 'parts', 'sections', 'patterns', 'assets', 'takes'] as const;
  if (lists.some((list) => a[list] !== b[list]) || a.mix_bus !== b.mix_bus) return false;
  if (a.header !== b.header && JSON.stringify(a.header) !== JSON.stringify(b.header)) return false;
  if (a.strips === b.strips) return true;
  if (a.strips.length !== b.strips.length) return false;
  return a.strips.every((one, at) => {
    const other = b.strips[at];
    if (one === other) return true;
    if (!other || one.id !== strip) return false;
    return JSON.stringify({ ...one, fader_db: 0 }) === JSON.stringify({ ...other, fader_db: 0 });
  });
}

/** Strips that feed a return at all. */
export const feedersOf = (doc: Session, path: number): Strip[] =>
  doc.strips.filter((s) => s.sends.some((send) => send.to === path));

/** "4 rows at full level", "Kick and Snare, before their faders". */
export function feedSaid(feeders: Strip[], path: number, nameOf: (strip: number) => string): string {
  if (feeders.length === 0) return 'nothing feeds it yet';
  const sends = feeders.flatMap((s) => s.sends.filter((send) => send.to === path));
  const full = sends.every((s) => s.level_db === 0 && !s.mute) ? ' at full level' : '';
  const pre = sends.every((s) => s.tap === 'pre_fader') ? ', before the fader' : '';
  const who = feeders.length <= 3 ? feeders.map((s) => nameOf(s.id)).join(', ') : `${feeders.length} rows`;
  return `fed by ${who}${full}${pre}`;
}
