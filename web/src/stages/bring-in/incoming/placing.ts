/** What brought files become: edits, each of one file, and where recordings stand. */
import type {
  BroughtIn,
  BroughtSound,
  Destination,
  Edit,
  Incoming,
  Layer,
  NewVoice,
  NotesTo,
} from '$lib/api/types';
import { LIMITS } from '$lib/api/types/limits';

/** A file that the server read. */
export interface Brought {
  file: string;
  result: BroughtIn;
}

/** Files in the order of their names, numbers in them by what they count: 2 comes before 10. */
export function inOrder<T extends { path: string }>(items: T[]): T[] {
  const names = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
  return items.toSorted((a, b) => names.compare(a.path, b.path));
}

/** The sounds among what was brought, as they are asked for a place. */
export const incoming = (brought: Brought[]): (Incoming & { of: Brought })[] =>
  brought.flatMap((of) =>
    of.result.kind === 'midi' ? [] : [{ of, name: of.result.name, family: of.result.family }],
  );

/**
 * Where sounds go after a person chose for one of them: a lane that another had is taken from it, which then gets one of
 * its own.
 *
 * * `voice` – a lane, or nothing for a new one.
 */
export function choose(to: Destination[], at: number, voice: number | null): Destination[] {
  return to.map((d, n) => {
    if (n === at) return { ...d, voice };
    return voice !== null && d.voice === voice ? { ...d, voice: null } : d;
  });
}

/** Where sounds go; one that is not named gets a new lane. */
export type Places = ReadonlyMap<Brought, Destination>;

/** What one file becomes. */
export interface Placed {
  of: Brought;
  file: string;
  edit: Edit;
}

/** The whole sample as it is. */
export const plainLayer = (asset: string): Layer => ({
  asset,
  gain_db: 0,
  tune_ct: 0,
  delay_ms: 0,
  start_frame: 0,
  end_frame: null,
  reverse: false,
  fade_in: { ms: 0, curve_percent: 0 },
  decay: null,
  sweep: null,
  velocity_percent: 100,
});

/** Short sounds that say they began so far apart, in s, were recorded as a set. */
const APART_S = 0.01;
/** Seconds since midnight that there are. */
const DAY_S = 86_400;

/** When a recording began, in frames since midnight, where its file says so. */
const timeOf = ({ result }: Brought) => (result.kind === 'midi' ? null : result.time_reference);

/**
 * Which of some files stand at their time references, in frames from the earliest: a set, as a recorder leaves it, of
 * files that did not all begin at once or of long ones. What cannot be, or would lie behind the end of a song, does not.
 */
export function timesOf(brought: Brought[], rate: number): Map<Brought, number> {
  const timed = brought.flatMap((of) => {
    const time = timeOf(of);
    return time !== null && time < DAY_S * rate ? [{ of, time: Number(time) }] : [];
  });
  const earliest = Math.min(...timed.map((t) => t.time));
  const within = timed.filter((t) => (t.time - earliest) / rate < LIMITS.song_seconds);
  const set =
    within.length > 1 &&
    (within.some((t) => t.of.result.kind === 'recording') ||
      within.some((t) => (t.time - earliest) / rate >= APART_S));
  return new Map(set ? within.map((t) => [t.of, t.time - earliest]) : []);
}

function voiceOf(
  sound: BroughtSound,
  recorded: boolean,
  start_frame: number,
  trim_db: number | undefined,
): NewVoice {
  const source: NewVoice['source'] = recorded
    ? { kind: 'recording', asset: sound.asset.id, start_frame }
    : { kind: 'one_shot', layers: [plainLayer(sound.asset.id)], hold: { kind: 'whole' } };
  return { name: sound.name, family: sound.family, source, output: null, trim_db: trim_db ?? 0, hits: [] };
}

/** One trim for all that comes in. */
export interface Trim {
  db: number;
  /** The strip of a lane that is there. */
  channelOf: (voice: number) => number | undefined;
}

/** A lane of its own, or the sound of one that is there. */
function into(voice: NewVoice, sound: BroughtSound, to: Destination | undefined, trim?: Trim): Edit {
  if (to?.voice != null) {
    const filled: Edit = { kind: 'set_source', voice: to.voice, source: voice.source, assets: [sound.asset] };
    const strip = trim?.channelOf(to.voice);
    if (!trim || strip === undefined) return filled;
    const change = { what: 'trim_db', to: trim.db } as const;
    return { kind: 'batch', edits: [filled, { kind: 'set_strips', strips: [strip], change }] };
  }
  return { kind: 'add_voices', voices: [{ ...voice, output: to?.output ?? null }], assets: [sound.asset] };
}

/**
 * Each file as an edit of its own, sounds first, so that the notes of a take find their lanes; and what was taken otherwise
 * than a file says, for people. Where recordings say when they began, they stand as they stood to each other, short ones
 * too.
 *
 * * `notesOf` – lanes that somebody chose for notes of a take.
 */
export function placed(
  brought: Brought[],
  rate: number,
  to: Places = new Map(),
  trim?: Trim,
  notesOf: (take: Brought) => NotesTo[] = () => [],
): { placed: Placed[]; remarks: string[] } {
  const remarks = brought.flatMap(({ file, result }) =>
    (result.kind === 'midi' ? result.take.remarks : result.remarks).map((r) => `${file}: ${r}`),
  );
  const times = timesOf(brought, rate);
  const sounds: Placed[] = [];
  const takes: Placed[] = [];
  for (const item of brought) {
    const { file, result } = item;
    if (result.kind === 'midi') {
      takes.push({
        of: item,
        file,
        edit: { kind: 'add_take', take: result.take, sounds: result.sounds, to: notesOf(item) },
      });
      continue;
    }
    const time = timeOf(item);
    const start = times.get(item);
    const recorded = result.kind === 'recording' || start !== undefined;
    const instead = recorded ? 'it begins with bar 1' : 'it comes in as a one-shot';
    if (start === undefined && times.size > 0)
      remarks.push(
        time === null
          ? `${file}: it does not say when it began, so ${instead}.`
          : `${file}: its time reference, ${clock(time / rate)}, cannot be that of the others, so ${instead}.`,
      );
    else if (start === undefined && time !== null && time > 0 && result.kind === 'recording')
      remarks.push(
        `${file}: its time reference is not kept, since no other file has one; it begins with bar 1.`,
      );
    const voice = voiceOf(result, recorded, start ?? 0, trim?.db);
    sounds.push({ of: item, file, edit: into(voice, result, to.get(item), trim) });
  }
  if (times.size > 0) {
    const last = Math.max(...times.values()) / rate;
    remarks.push(`Recordings stand at their time references, the last ${last.toFixed(3)} s after the first.`);
  }
  return { placed: [...sounds, ...takes], remarks };
}

/** "12:03:04", hours, minutes and seconds since midnight; what is more than a day in hours. */
function clock(seconds: number): string {
  const two = (n: number) => String(Math.floor(n)).padStart(2, '0');
  if (seconds >= DAY_S) return `${Math.floor(seconds / 3600)} hours`;
  return `${two(seconds / 3600)}:${two((seconds / 60) % 60)}:${two(seconds % 60)}`;
}

/** Many edits as one: sounds in one step, takes behind them. */
export function asOne(edits: Edit[]): Edit {
  const sounds = edits.filter((e) => e.kind === 'add_voices');
  const rest = edits.filter((e) => e.kind !== 'add_voices');
  const voices = sounds.flatMap((e) => e.voices);
  const assets = sounds.flatMap((e) => e.assets);
  const all: Edit[] = voices.length > 0 ? [{ kind: 'add_voices', voices, assets }, ...rest] : rest;
  return all.length === 1 ? (all[0] as Edit) : { kind: 'batch', edits: all };
}
