import { describe, expect, test } from 'vitest';
import type { KeptTake, NoteKey, Part, Session, Split, Voice } from '$lib/api/types';
import { joined, joinings } from './joining';
import { plainLayer } from './placing';

const key = (note: number): NoteKey => ({ track: 0, channel: 9, key: note });
const voice = (id: number, name: string, asset?: string): Voice =>
  ({
    id,
    name,
    source: asset
      ? { kind: 'one_shot', layers: [plainLayer(asset)], hold: { kind: 'whole' } }
      : { kind: 'empty' },
  }) as unknown as Voice;

const take = {
  id: 5,
  pattern: 3,
  groups: [
    { voice: 1, keys: [key(42)], made: true },
    { voice: 2, keys: [key(46)], made: true },
    { voice: 4, keys: [key(44)], made: true },
  ],
} as unknown as KeptTake;

const doc = (parts: Partial<Part>[] = []): Session =>
  ({
    voices: [voice(1, 'Hat closed', 'aa'), voice(2, 'Hat open', 'bb'), voice(4, 'Pedal')],
    parts,
  }) as unknown as Session;

const onto = (voice: number, ...notes: number[]): Split => ({
  to: { kind: 'voice', voice },
  keys: notes.map(key),
});

describe('notes put together', () => {
  test('a lane that goes is named with the one that its notes go to', () => {
    const found = joinings(doc(), take, [onto(1, 42, 46), onto(4, 44)]);
    expect(found.map(({ at, name, lost }) => [at, name, lost.map((v) => v.name)])).toEqual([
      [0, 'Hat closed', ['Hat open']],
    ]);
  });

  test('a lane without a sound, one that plays elsewhere, and notes that go nowhere lose nothing', () => {
    expect(joinings(doc(), take, [onto(1, 42, 44), onto(2, 46)])).toEqual([]);
    const elsewhere = [{ pattern: 9, voice: 2, hits: [{ at_ticks: 0 }] as Part['hits'] }];
    expect(joinings(doc(elsewhere), take, [onto(1, 42, 46)])).toEqual([]);
    expect(joinings(doc(), take, [onto(1, 42)])).toEqual([]);
  });

  test('notes of one lane that part ask nobody', () => {
    const one = { ...take, groups: [{ voice: 1, keys: [key(42), key(46)], made: true }] } as KeptTake;
    const apart = [42, 46].map((note): Split => ({
      to: { kind: 'new', name: String(note), family: 'hats', melodic: false, sound: null },
      keys: [key(note)],
    }));
    expect(joinings(doc(), one, apart)).toEqual([]);
  });

  test('nobody is asked where both play the same sound', () => {
    const alike = { ...doc(), voices: [voice(1, 'A', 'aa'), voice(2, 'B', 'aa')] } as Session;
    expect(joinings(alike, take, [onto(1, 42, 46)])).toEqual([]);
  });

  test('the sound that was chosen is played, by the lane that stays or by the lane itself', () => {
    const splits = [onto(1, 42, 46)];
    const found = joinings(doc(), take, splits);
    expect(joined(5, splits, found, [undefined])).toEqual({ kind: 'split_take', take: 5, splits });
    expect(joined(5, splits, found, [2])).toEqual({
      kind: 'batch',
      edits: [
        { kind: 'split_take', take: 5, splits },
        { kind: 'set_source', voice: 1, source: voice(2, '', 'bb').source, assets: [] },
      ],
    });
    const fresh: Split[] = [
      {
        to: { kind: 'new', name: 'Hats', family: 'hats', melodic: false, sound: null },
        keys: [key(42), key(46)],
      },
    ];
    const both = joinings(doc(), take, fresh);
    expect(both[0]?.lost.map((v) => v.id)).toEqual([1, 2]);
    expect(joined(5, fresh, both, [2])).toMatchObject({ splits: [{ to: { kind: 'voice', voice: 2 } }] });
  });
});
