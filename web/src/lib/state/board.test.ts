import { describe, expect, test } from 'vitest';
import { EMPTY } from '$lib/sync/model';
import { barTicks, framesPerTick, sameRow, songBars, stripName, type Row } from './board.svelte';

const doc = {
  ...EMPTY,
  patterns: [
    { id: 3, name: 'A', bars: 2 },
    { id: 9, name: 'B', bars: 1 },
  ],
  sections: [
    { id: 4, name: 'Verse', pattern: 3, bars: 3 },
    { id: 5, name: 'Hook', pattern: 9, bars: 2 },
  ],
};

describe('the time of a session', () => {
  test('a bar has the ticks of its beats', () => {
    expect(barTicks(doc)).toBe(3840);
    const header = { ...doc.header, metre: { beats: 7, unit: 8 } };
    expect(barTicks({ ...doc, header })).toBe(3360);
  });

  test('a quarter at 96 bpm takes 30,000 frames at 48 kHz', () => {
    expect(960 * framesPerTick(doc)).toBeCloseTo(30_000, 9);
  });

  test('sections follow each other, and patterns repeat or are cut in them', () => {
    const bars = songBars(doc);
    expect(bars.map((b) => [b.bar, b.section.name, b.pattern.name, b.patternBar, b.loopFrom])).toEqual([
      [0, 'Verse', 'A', 0, 0],
      [1, 'Verse', 'A', 1, 1],
      [2, 'Verse', 'A', 0, 2],
      [3, 'Hook', 'B', 0, 0],
      [4, 'Hook', 'B', 0, 1],
    ]);
  });

  test('a section whose pattern is gone has no bars', () => {
    expect(songBars({ ...doc, patterns: doc.patterns.slice(0, 1) }).length).toBe(3);
  });
});

describe('rows', () => {
  const row: Row = {
    key: 's1',
    kind: 'main',
    name: 'Main',
    strip: doc.strips[0] as Row['strip'],
    shares: [],
  };

  test('one that shows the same is the same', () => {
    expect(sameRow(row, { ...row, shares: [] })).toBe(true);
  });

  test.each<[string, Partial<Row>]>([
    ['another strip', { strip: { ...row.strip } }],
    ['another name', { name: 'Sum' }],
    ['another voice on its channel', { shares: ['Kick'] }],
  ])('%s makes it another', (_, change) => {
    expect(sameRow(row, { ...row, ...change })).toBe(false);
  });

  test('a channel without a name is called after its voices', () => {
    const channel = { ...row.strip, id: 20, kind: 'channel' as const, name: '' };
    const voice = (id: number, name: string) => ({
      id,
      name,
      family: 'low' as const,
      source: { kind: 'empty' as const },
      channel: 20,
      choke_set: null,
      swing: null,
      follows: null,
    });
    const session = {
      ...doc,
      strips: [...doc.strips, channel],
      voices: [voice(21, 'Kick'), voice(22, 'Click')],
    };
    expect(stripName(session, 20)).toBe('Kick + Click');
    expect([stripName(session, 1), stripName(session, null)]).toEqual(['Main', 'Nothing']);
  });
});
