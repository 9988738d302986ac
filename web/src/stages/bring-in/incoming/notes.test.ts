import { describe, expect, test } from 'vitest';
import type { BroughtIn, Edit, NotePlaces, NotesLane, Take, Voice } from '$lib/api/types';
import { chosenAgain, chosenLanes, laneKey, laneOf, noteLines, notesOptions, type NoteLine } from './notes';
import type { Brought } from './placing';

const NEW: NotesLane = { kind: 'new' };
const lane = (voice: number): NotesLane => ({ kind: 'voice', voice });
const named = (name: string): NotesLane => ({ kind: 'named', name });

const take = (name: string): Take => ({
  name,
  tracks: [],
  notes: [],
  tempo_bpm: null,
  metre: null,
  remarks: [],
});
const midi = (name: string): Brought => ({
  file: `${name}.mid`,
  result: { kind: 'midi', take: take(name), sounds: [] } satisfies BroughtIn,
});
const sound: Brought = {
  file: 'kick.wav',
  result: {
    kind: 'one_shot',
    name: 'Kick',
    family: 'low',
    asset: { id: 'a', name: 'Kick', channels: 1, sample_rate: 48_000, frames: 100 },
    peak_dbfs: -3,
    time_reference: null,
    remarks: [],
  },
};
const line = (of: Brought, notes: string, proposed: NotesLane, chosen?: NotesLane): NoteLine => ({
  of,
  notes,
  family: 'low',
  hits: 4,
  proposed,
  chosen,
});

describe('lines of notes', () => {
  /** Asks as the core would, and keeps what came before each take. */
  function lines(brought: Brought[], before: NoteLine[] = []) {
    const asked: Edit[][] = [];
    const ask = (edits: Edit[], { name }: Take): NotePlaces => {
      asked.push(edits);
      const to = edits.some((e) => e.kind === 'add_voices') ? named('Kick') : NEW;
      return { places: [{ notes: `Kick of ${name}`, family: 'low', hits: 2, to }], coming: ['Kick'] };
    };
    return { asked, ...noteLines(brought, 48_000, new Map(), before, ask) };
  }

  test('come for each take, behind the sounds and the takes before it', () => {
    const { asked, lines: found, coming } = lines([midi('A'), sound, midi('B')]);
    expect(asked.map((edits) => edits.map((e) => e.kind))).toEqual([
      ['add_voices'],
      ['add_voices', 'add_take'],
    ]);
    expect(found.map((l) => [l.notes, l.proposed])).toEqual([
      ['Kick of A', named('Kick')],
      ['Kick of B', named('Kick')],
    ]);
    expect(coming).toEqual(['Kick']);
  });

  test('of a take see what was chosen for the take before it', () => {
    const [a, b] = [midi('A'), midi('B')] as [Brought, Brought];
    const { asked } = lines([a, b], [line(a, 'Kick of A', NEW, lane(4))]);
    expect(asked[1]).toMatchObject([{ kind: 'add_take', to: [{ notes: 'Kick of A', to: lane(4) }] }]);
  });

  test('are none where only sounds come in', () => {
    expect(lines([sound]).lines).toEqual([]);
  });
});

describe('lanes for notes', () => {
  const voice = (id: number, kind: string, follows: number | null = null) =>
    ({ id, name: `Lane ${id}`, source: { kind }, follows }) as Voice;

  test('are those with hits of their own, and those that come in', () => {
    const voices = [voice(1, 'one_shot'), voice(2, 'recording'), voice(3, 'empty'), voice(4, 'one_shot', 1)];
    const options = notesOptions(voices, ['Kick 2']);
    expect(options.map((o) => o.text)).toEqual(['a new lane', 'Lane 1', 'Lane 3', 'Kick 2, which comes in']);
    expect(new Set(options.map((o) => o.value)).size).toBe(4);
  });

  test('have keys that tell them apart, also a lane called after a number', () => {
    const keys = [NEW, lane(1), named('1'), named('v1'), named('')].map(laneKey);
    expect(new Set(keys).size).toBe(5);
  });
});

describe('what was chosen', () => {
  const of = midi('A');
  const options = notesOptions([], ['Kick']);

  test('stays while its lane comes, and falls back to the proposal when it does not', () => {
    const now = [line(of, 'Kick', NEW), line(of, 'Snare', NEW)];
    const before = [line(of, 'Kick', NEW, named('Kick')), line(of, 'Snare', NEW, lane(9))];
    expect(chosenAgain(now, before, options).map(laneOf)).toEqual([named('Kick'), NEW]);
  });

  test('of another take of the same notes is not taken for this one', () => {
    const before = [line(midi('A'), 'Kick', NEW, named('Kick'))];
    expect(chosenAgain([line(of, 'Kick', NEW)], before, options).map(laneOf)).toEqual([NEW]);
  });

  test('is named in the edit of its own take; what was not chosen is left to the core', () => {
    const other = midi('B');
    const lines = [line(of, 'Kick', lane(1)), line(of, 'Snare', NEW, lane(2)), line(other, 'Clap', NEW, NEW)];
    expect(chosenLanes(lines, of)).toEqual([{ notes: 'Snare', to: lane(2) }]);
    expect(chosenLanes(lines, other)).toEqual([{ notes: 'Clap', to: NEW }]);
  });
});
