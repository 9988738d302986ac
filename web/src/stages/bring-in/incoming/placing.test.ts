import { describe, expect, test } from 'vitest';
import type { BroughtIn } from '$lib/api/types';
import { asOne, choose, incoming, inOrder, placed, type Brought } from './placing';

function sound(file: string, kind: 'one_shot' | 'recording', time_reference: number | null): Brought {
  const asset = { id: file, name: file, channels: 1, sample_rate: 48_000, frames: 100 };
  return {
    file,
    result: { kind, name: file, family: 'low', asset, peak_dbfs: -3, time_reference, remarks: [] },
  };
}

const take: Brought = {
  file: 'beat.mid',
  result: {
    kind: 'midi',
    take: {
      name: 'Beat',
      tracks: [],
      notes: [],
      tempo_bpm: null,
      metre: null,
      remarks: ['Its tempo changes.'],
    },
    sounds: [],
  } satisfies BroughtIn,
};

/** Where each file stands: its first frame, or nothing where it is a one-shot. */
const starts = (brought: Brought[]) =>
  placed(brought, 48_000).placed.map(({ edit }) => {
    const source = edit.kind === 'add_voices' ? edit.voices[0]?.source : undefined;
    return source?.kind === 'recording' ? source.start_frame : undefined;
  });

describe('places', () => {
  test('files come in by name, numbers by what they count', () => {
    const paths = ['10 Ride.wav', '2 snare.wav', '1 Kick.wav', 'Kit/a.wav', '02 Clap.wav'];
    const ordered = inOrder(paths.map((path) => ({ path }))).map((i) => i.path);
    expect(ordered).toEqual(['1 Kick.wav', '02 Clap.wav', '2 snare.wav', '10 Ride.wav', 'Kit/a.wav']);
  });

  test('are asked for sounds, not for notes', () => {
    const kick = sound('kick.wav', 'one_shot', null);
    expect(incoming([take, kick])).toEqual([{ of: kick, name: 'kick.wav', family: 'low' }]);
  });

  const to = [
    { voice: 5, output: null },
    { voice: null, output: 9 },
  ];
  test('a lane that is chosen for another is taken from the one that had it', () => {
    expect(choose(to, 1, 5).map((d) => d.voice)).toEqual([null, 5]);
  });

  test('a new lane takes nothing from others', () => {
    expect(choose(to, 1, null)).toEqual(to);
  });

  test('a lane that waits gets the sound, a new one goes to its bus', () => {
    // Of the same path, as two archives may hold them.
    const [a, b] = ['a', 'a'].map((file) => sound(file, 'one_shot', null)) as [Brought, Brought];
    const places = new Map([
      [a, { voice: 5, output: null }],
      [b, { voice: null, output: 9 }],
    ]);
    const { placed: found } = placed([a, b], 48_000, places);
    expect(found[0]?.edit).toMatchObject({ kind: 'set_source', voice: 5, assets: [{ id: 'a' }] });
    expect(found[1]?.edit).toMatchObject({ kind: 'add_voices', voices: [{ output: 9 }] });
  });
});

describe('time references', () => {
  test('put recordings where they stood to each other, midnight and short files too', () => {
    const brought = [
      sound('a', 'recording', 0),
      sound('b', 'recording', 48_000),
      sound('clap', 'one_shot', 96_000),
    ];
    expect(starts(brought)).toEqual([0, 48_000, 96_000]);
    expect(placed(brought, 48_000).remarks.at(-1)).toContain('the last 2.000 s after the first');
  });

  test('of one file alone are not kept, and that is said', () => {
    const { remarks } = placed([sound('a', 'recording', 500), sound('b', 'recording', null)], 48_000);
    expect(starts([sound('a', 'recording', 500)])).toEqual([0]);
    expect(remarks).toEqual([expect.stringContaining('a: its time reference is not kept')]);
  });

  test('that one recording lacks do not keep the others from their places', () => {
    const brought = [
      sound('a', 'recording', 900),
      sound('b', 'recording', 400),
      sound('c', 'recording', null),
    ];
    expect(starts(brought)).toEqual([500, 0, 0]);
    expect(placed(brought, 48_000).remarks[0]).toContain('c: it does not say when it began');
  });

  test('of one-shots that began together do not make recordings of them', () => {
    expect(starts([sound('a', 'one_shot', 10), sound('b', 'one_shot', 20)])).toEqual([undefined, undefined]);
  });

  test('of short recordings make a set of them, whatever their length', () => {
    const brought = [
      sound('a', 'one_shot', 48_000),
      sound('b', 'one_shot', 72_000),
      sound('c', 'one_shot', null),
    ];
    expect(starts(brought)).toEqual([0, 24_000, undefined]);
    expect(placed(brought, 48_000).remarks[0]).toBe(
      'c: it does not say when it began, so it comes in as a one-shot.',
    );
  });

  test('that cannot be, or lie behind the end of a song, are told and stand at bar 1', () => {
    const absurd = sound('absurd', 'recording', 48_000 * 100_000);
    const late = sound('late', 'recording', 48_000 * (2 + 3600));
    const brought = [sound('a', 'recording', 96_000), sound('b', 'one_shot', 97_000), absurd, late];
    expect(starts(brought)).toEqual([0, 1000, 0, 0]);
    const { remarks } = placed(brought, 48_000);
    expect(remarks).toContainEqual(expect.stringContaining('absurd: its time reference, 27 hours, cannot'));
    expect(remarks).toContainEqual(expect.stringContaining('late: its time reference, 01:00:02, cannot'));
  });
});

describe('a drop', () => {
  test('is sounds first and takes behind them, each of its file, with remarks by file', () => {
    const { placed: list, remarks } = placed([take, sound('kick', 'one_shot', null)], 48_000);
    expect(list.map((p) => p.file)).toEqual(['kick', 'beat.mid']);
    expect(remarks).toEqual(['beat.mid: Its tempo changes.']);
  });

  test('is trimmed by one amount, in new lanes and in those that wait', () => {
    const brought = [sound('a', 'one_shot', null), sound('b', 'recording', null)];
    const to = new Map([[brought[1] as Brought, { voice: 7, output: null }]]);
    const trim = { db: -9, channelOf: (voice: number) => (voice === 7 ? 6 : undefined) };
    const { placed: list } = placed(brought, 48_000, to, trim);
    expect(list[0]?.edit).toMatchObject({ kind: 'add_voices', voices: [{ trim_db: -9 }] });
    expect(list[1]?.edit).toMatchObject({
      kind: 'batch',
      edits: [
        { kind: 'set_source', voice: 7 },
        { kind: 'set_strips', strips: [6], change: { what: 'trim_db', to: -9 } },
      ],
    });
  });

  test('becomes one edit, its sounds in one step', () => {
    const { placed: list } = placed(
      [sound('a', 'one_shot', null), take, sound('b', 'one_shot', null)],
      48_000,
    );
    const one = asOne(list.map((p) => p.edit));
    expect(one).toMatchObject({ kind: 'batch', edits: [{ kind: 'add_voices' }, { kind: 'add_take' }] });
    expect(asOne([list[0]?.edit as never])).toMatchObject({ kind: 'add_voices' });
  });
});
