import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { Edit, NewVoice, Session } from '$lib/api/types';
import { plainLayer } from '$stages/bring-in/incoming/placing';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import { BoardState } from './board.svelte';
import type { SessionState } from './session.svelte';
import type { StageFacts } from './stage';

const STAGES: StageFacts[] = [
  {
    id: 'bring-in',
    name: 'Bring in',
    key: '1',
    tabs: [
      { id: 'files', name: 'Files' },
      { id: 'sound', name: 'Sound' },
    ],
    begins: 'sound',
    benchHeight: 226,
  },
  { id: 'shape', name: 'Shape', key: '4', benchHeight: 300 },
];

let kept: Map<string, string>;
beforeEach(() => {
  kept = new Map();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  });
});

const kit = addLanes(newVoice('Kick'), newVoice('Snare', 'snare'), newVoice('Hat', 'hats'));

function board(...edits: (Edit | ((doc: Session) => Edit))[]): BoardState {
  const desk = onDesk(...edits);
  const doc = desk.document();
  const session = { id: 'one', doc, settledDoc: doc, header: doc.header, desk, player: { position: 0 } };
  return new BoardState(session as unknown as SessionState, STAGES);
}
const names = (of: BoardState) => of.chosen.map((r) => r.name);
const key = (of: BoardState, name: string) => of.rows.find((r) => r.name === name)?.key ?? '';

describe('the loop', () => {
  /** Bars of A, then of B, where two lanes play in B. */
  const twoSections = [
    kit,
    { kind: 'add_pattern', name: 'B', bars: 3, copy_of: null } as Edit,
    (d: Session): Edit => ({
      kind: 'add_section',
      name: 'B',
      pattern: d.patterns[1]?.id ?? 0,
      bars: 12,
      at: 1,
    }),
    ...[0, 1].map((n) => (d: Session): Edit => ({
      kind: 'set_hits',
      pattern: d.patterns[1]?.id ?? 0,
      voice: d.voices[n]?.id ?? 0,
      hits: [{ at_ticks: 0, length_ticks: 240, velocity: 100, tune_st: 0 }],
    })),
  ];

  test('begins as the section in which the most lanes play, of eight bars at most', () => {
    const of = board(...twoSections);
    expect([of.loopFrom, of.loopBars]).toEqual([4, 8]);
    expect(of.loop.map((b) => b.section.name)).toEqual(Array.from({ length: 8 }, () => 'B'));
  });

  test('knows which bar of a pattern each bar plays', () => {
    expect(board(...twoSections).loop.map((b) => b.patternBar)).toEqual([0, 1, 2, 0, 1, 2, 0, 1]);
  });

  test.each([
    [-3, 2, 0, 2],
    [14, 9, 14, 2],
    [99, 0, 15, 1],
  ])('from %i of %i bars stays in the song', (from, bars, isFrom, isBars) => {
    const of = board(...twoSections);
    of.setLoop(from, bars);
    expect([of.loopFrom, of.loopBars]).toEqual([isFrom, isBars]);
  });

  test('stands on frames', () => {
    // 96 bpm, 4/4, 48 kHz: a bar is 2.5 s.
    expect(board(kit).frameOf(2)).toBe(240_000);
  });
});

describe('rows', () => {
  test('are chosen one, several, and a range, and a step moves among what is shown', () => {
    const of = board(kit);
    expect(names(of)).toEqual(['Kick']);
    of.select(key(of, 'Hat'), { shiftKey: true, ctrlKey: false, metaKey: false });
    expect(names(of)).toEqual(['Kick', 'Snare', 'Hat']);
    of.select(key(of, 'Snare'), { shiftKey: false, ctrlKey: true, metaKey: false });
    expect(names(of)).toEqual(['Kick', 'Hat']);
    of.step(-1);
    expect(names(of)).toEqual(['Snare']);
    of.step(99);
    expect(names(of)).toEqual(['Main']);
  });

  test('that a filter hides are passed by', () => {
    const of = board(kit);
    of.filter = 'a';
    of.step(1);
    expect(of.shown.map((r) => r.name)).not.toContain('Kick');
    expect(of.shown).toContain(of.chosen[0]);
  });

  test('change together where one of them is changed, alone otherwise', () => {
    const of = board(kit);
    const strip = (name: string) => of.rows.find((r) => r.name === name)?.strip.id ?? 0;
    of.selected = [key(of, 'Kick'), key(of, 'Hat')];
    expect(of.together(strip('Hat'))).toEqual([strip('Kick'), strip('Hat')]);
    expect(of.together(strip('Snare'))).toEqual([strip('Snare')]);
  });

  test('are folded by families in a session of many lanes, open where somebody opens them', () => {
    const many = Array.from({ length: 25 }, (_, n) => newVoice(`Hat ${n}`, 'hats'));
    const of = board(addLanes(newVoice('Kick'), ...many));
    expect(of.lines.map((l) => l.fold?.family ?? l.row?.name)).toEqual(['low', 'hats', 'Mix bus', 'Main']);
    of.toggleFamily('low');
    expect(of.lines.map((l) => l.fold?.family ?? l.row?.name)).toEqual([
      'low',
      'Kick',
      'hats',
      'Mix bus',
      'Main',
    ]);
    of.toggleFamily('low');
    expect(of.lines).toHaveLength(4);
  });

  test.each([
    [480, 3, 35],
    [480, 15, 28],
    [480, 20, 26],
    [480, 90, 26],
    [1200, 32, 35],
    [-320, 3, 26],
  ])('in %i pixels are as high as lets %i be seen', (room, count, height) => {
    // Mix bus and main stand under the lanes.
    const of = board(addLanes(...Array.from({ length: count - 2 }, (_, n) => newVoice(`Lane ${n}`))));
    of.folded = false;
    of.windowHeight = 320 + room;
    expect(of.rowHeight).toBe(height);
  });
});

describe('how somebody looks at a session', () => {
  test('is there again after a reload', () => {
    const of = board(kit);
    of.stage = 'shape';
    of.selected = [key(of, 'Hat')];
    of.setLoop(1, 2);
    of.benchHeight = 333;
    of.keep();
    const again = board(kit);
    expect([again.stage, again.loopFrom, again.loopBars, again.benchHeight]).toEqual(['shape', 1, 2, 333]);
    expect(names(again)).toEqual(['Hat']);
  });

  test('is each stage of its own where benches are sized', () => {
    const of = board(kit);
    of.benchHeight = 400;
    of.stage = 'shape';
    expect(of.benchHeight).toBe(300);
  });

  test.each([
    '{',
    'null',
    '{"stage":"gone","tabs":{"bring-in":"gone","levels":7},"selected":["v999"],"stepTicks":-1}',
    '{"selected":7,"loopFrom":-5,"loopBars":0.5,"benchHeights":null}',
  ])('is the default where what was kept is %s', (text) => {
    kept.set('board one', text);
    const of = board(kit);
    expect([of.stage, of.tabOf('bring-in'), of.stepTicks]).toEqual(['bring-in', 'sound', 240]);
    expect(names(of)).toEqual(['Kick']);
    expect(of.loop.length).toBeGreaterThan(0);
  });

  test('the bench of a stage is about what somebody chose there, also next time', () => {
    const of = board(kit);
    of.show('bring-in', 'files');
    of.show('bring-in', 'gone');
    of.show('shape', 'files');
    of.keep();
    expect([board(kit).tabOf('bring-in'), board(kit).tabOf('shape')]).toEqual(['files', '']);
  });
});

test.each([
  [1, /^Mono sound/],
  [2, undefined],
])('width of a sound with %i channels is idle for a reason, or not', (channels, reason) => {
  const id = 'ab'.repeat(32);
  const source: NewVoice['source'] = { kind: 'one_shot', layers: [plainLayer(id)], hold: { kind: 'whole' } };
  const assets = [{ id, name: 'Kick', channels, sample_rate: 48_000, frames: 4800 }];
  const of = board({ kind: 'add_voices', voices: [{ ...newVoice('Kick'), source }], assets });
  const said = of.widthIdle(of.rows[0]?.strip.id ?? 0);
  if (reason) expect(said).toMatch(reason);
  else expect(said).toBeUndefined();
});
