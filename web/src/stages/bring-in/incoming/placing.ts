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

const timeOf = ({ result }: Brought) => (result.kind === 'midi' ? null : result.time_reference);

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
  const timed = brought.filter((b) => timeOf(b) !== null);
  const together = timed.length > 1 && timed.some((b) => b.result.kind === 'recording');
  const earliest = together ? Math.min(...timed.map((b) => Number(timeOf(b)))) : 0;
  const sounds: Placed[] = [];
  const takes: Placed[] = [];
  for (const item of brought) {
    const { file, result } = item;
    if (result.kind === 'midi') {
      takes.push({
        file,
        edit: { kind: 'add_take', take: result.take, sounds: result.sounds, to: notesOf(item) },
      });
      continue;
    }
    const time = timeOf(item);
    const stands = together && time !== null;
    const recorded = result.kind === 'recording' || stands;
    if (result.kind === 'recording' && together && time === null)
      remarks.push(`${file}: it does not say when it began, so it begins with bar 1.`);
    if (!together && time !== null && time > 0 && result.kind === 'recording')
      remarks.push(
        `${file}: its time reference is not kept, since no other file has one; it begins with bar 1.`,
      );
    const start = stands ? Number(time) - earliest : 0;
    sounds.push({ file, edit: into(voiceOf(result, recorded, start, trim?.db), result, to.get(item), trim) });
  }
  if (together) {
    const last = (Math.max(...timed.map((b) => Number(timeOf(b)))) - earliest) / rate;
    remarks.push(`Recordings stand at their time references, the last ${last.toFixed(3)} s after the first.`);
  }
  return { placed: [...sounds, ...takes], remarks };
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

/** Bytes that a file takes while it plays, at least, from what stands at its beginning. */
export async function playedBytes(file: Blob, size: number, rate: number): Promise<number> {
  const head = new DataView(await file.slice(0, 48).arrayBuffer());
  const text = (at: number) =>
    head.byteLength >= at + 4 ? String.fromCharCode(...[0, 1, 2, 3].map((n) => head.getUint8(at + n))) : '';
  if (text(0) !== 'RIFF' || text(12) !== 'fmt ' || head.byteLength < 36) return size;
  const bits = head.getUint16(34, true);
  const from = head.getUint32(24, true);
  if (bits < 8 || bits > 64 || from < 4000) return size;
  return Math.round((size * 32 * rate) / (bits * from));
}
