/** One trim for all that comes in together, so that its loudest reaches the target and its balance stays. */
import type { LaneTarget, Session } from '$lib/api/types';
import { range } from '$lib/limits';
import type { Brought } from './placing';

/** What the server calls silence. */
const SILENCE_DBFS = -200;
/** Less than this is not worth a word, in dB. */
const LEAST_DB = 0.05;

/**
 * The trim in dB that brings the loudest of some sounds to a target by peak; nothing where there is none to bring, where it
 * stands there already, and for targets that have to be measured while it plays.
 */
export function commonTrim(brought: Brought[], target: LaneTarget): number | undefined {
  if (target.by !== 'peak') return undefined;
  const peaks = brought.flatMap(({ result }) =>
    result.kind === 'midi' || result.peak_dbfs <= SILENCE_DBFS ? [] : [result.peak_dbfs],
  );
  if (peaks.length === 0) return undefined;
  const { min, max } = range('trim_db');
  // Down to a tenth, so that it stays under the target.
  const db = Math.floor(10 * (target.db - Math.max(...peaks)) + 1e-6) / 10;
  const held = Math.max(min, Math.min(max, db));
  return Math.abs(held) < LEAST_DB ? undefined : held;
}

/** Whether a lane that gets another sound keeps its trim: where somebody set one, and where it stood in a balance already. */
export function keepsTrim(doc: Session, voice: number): boolean {
  const lane = doc.voices.find((v) => v.id === voice);
  const strip = doc.strips.find((s) => s.id === lane?.channel);
  return lane?.source.kind !== 'empty' || strip?.trim_db !== 0;
}

/** What was done, for people. */
export const trimSentence = (db: number, count: number, target: LaneTarget): string =>
  `${count === 1 ? 'Its trim is' : 'All trims are'} ${db > 0 ? '+' : ''}${db.toFixed(1)} dB, so that ${
    count === 1 ? 'it' : 'the loudest'
  } peaks at ${target.db.toFixed(1)} dBFS${count === 1 ? '' : ' and their balance stays'}.`;
