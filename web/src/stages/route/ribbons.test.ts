import { describe, expect, test } from 'vitest';
import type { Edit, Family, Session, Settings, Strip, StripChange } from '$lib/api/types';
import { addLanes, dice, newVoice, onDesk, wholeKey } from '$testing/on-desk';
import { linesOf, rowsOf } from '$lib/state/rows';
import { layout, steps, touching, type Box, type Picture, type Ribbon } from './ribbons';

const ROW = 28;
const WIDTH = 760;

const channelOf = (doc: Session, name: string) => doc.voices.find((v) => v.name === name)?.channel ?? 0;
const stripOf = (doc: Session, name: string) => doc.strips.find((s) => s.name === name)?.id ?? 0;
const bus =
  (name: string, ...lanes: string[]) =>
  (doc: Session): Edit => ({
    kind: 'new_bus',
    name,
    feeders: lanes.map((lane) => channelOf(doc, lane)),
  });
const space =
  (...lanes: string[]) =>
  (doc: Session): Edit => ({
    kind: 'new_return',
    name: 'Room',
    feeders: lanes.map((lane) => channelOf(doc, lane)),
    silent: false,
  });
const duck =
  (lane: string, by: string) =>
  (doc: Session): Edit => ({
    kind: 'add_processor',
    strips: [channelOf(doc, lane)],
    settings: compressor,
    key: { ...wholeKey(channelOf(doc, by)), high_pass_hz: 20, low_pass_hz: 20_000 },
    at: null,
  });
const strips =
  (change: StripChange, ...lanes: string[]) =>
  (doc: Session): Edit => ({
    kind: 'set_strips',
    strips: lanes.map((lane) => channelOf(doc, lane)),
    change,
  });

const lanes = addLanes(
  newVoice('Kick'),
  newVoice('Snare', 'snare'),
  newVoice('Hat', 'hats'),
  newVoice('Bass', 'bass'),
);
const compressor = onDesk().kinds.find((k) => k.default.kind === 'compressor')?.default as Settings;
/** A kit on a bus, a return for its snare, and a bass that the kick keys. */
const doc = onDesk(
  lanes,
  bus('Drums', 'Kick', 'Snare', 'Hat'),
  space('Snare'),
  duck('Bass', 'Kick'),
).document();

const drawn = (of: Session, folded?: Family[]) => layout(of, linesOf(rowsOf(of), '', folded), ROW, WIDTH);
const boxOf = (picture: Picture, name: string) => picture.boxes.find((b) => b.strip.name === name) as Box;
const means = (picture: Picture, what: Ribbon['means']) => picture.ribbons.filter((r) => r.means === what);
const from = (picture: Picture, what: Ribbon['means'], strip: number) =>
  means(picture, what).find((r) => r.from.includes(strip)) as Ribbon;
const numbers = (path: string) => (path.match(/-?\d+(\.\d+)?/g) ?? []).map(Number);

describe('boxes', () => {
  test('stand in columns by how far they are from main', () => {
    const picture = drawn(doc);
    const x = ['Drums', 'Mix bus', 'Main'].map((name) => boxOf(picture, name).x);
    expect(x).toEqual(x.toSorted((a, b) => a - b));
    expect(new Set(x).size).toBe(3);
    expect(['Drums', 'Mix bus', 'Main'].map((name) => steps(doc, boxOf(picture, name).strip))).toEqual([
      2, 1, 0,
    ]);
  });

  test('are drawn as what they are', () => {
    const picture = drawn(doc);
    expect(['Drums', 'Room', 'Main'].map((name) => boxOf(picture, name).kind)).toEqual([
      'bus',
      'return',
      'main',
    ]);
  });

  test('stand in the middle of what feeds them', () => {
    const picture = drawn(doc);
    const { y, height } = boxOf(picture, 'Drums');
    expect(y + height / 2).toBe(ROW * 1.5);
  });

  test('count no further than there are strips where a document is bent into a circle', () => {
    const [main, mix] = doc.strips.filter((s) => ['Main', 'Mix bus'].includes(s.name)) as [Strip, Strip];
    const bent = { ...doc, strips: [{ ...main, output: mix.id }, mix] };
    expect(steps(bent, mix)).toBe(2);
  });

  test.each(Array.from({ length: 40 }, (_, seed) => seed))(
    'never lie over each other or outside (seed %i)',
    (seed) => {
      const roll = dice(seed);
      const families: Family[] = ['low', 'snare', 'hats', 'percussion', 'bass', 'music'];
      const names = Array.from({ length: 1 + roll(14) }, (_, n) => `Lane ${n}`);
      const desk = onDesk(addLanes(...names.map((name) => newVoice(name, families[roll(6)]))));
      for (let n = roll(6); n > 0; n -= 1) {
        const fed = names.filter(() => roll(3) === 0);
        desk.apply((roll(3) === 0 ? space(...fed) : bus(`Bus ${n}`, ...fed))(desk.document()));
      }
      const of = desk.document();
      const picture = drawn(of, roll(2) === 0 ? [] : undefined);
      for (const [at, a] of picture.boxes.entries()) {
        expect(a.x >= 0 && a.x + a.width <= WIDTH && a.y >= 0, a.strip.name).toBe(true);
        for (const b of picture.boxes.slice(at + 1))
          expect(
            a.x !== b.x || a.y + a.height <= b.y || b.y + b.height <= a.y,
            `${a.strip.name}, ${b.strip.name}`,
          ).toBe(true);
      }
      // Every lane and box but main leads somewhere, and arrives at the edge of what it leads to.
      const ends = means(picture, 'output');
      for (const strip of of.strips.filter((s) => s.output !== null)) {
        const ribbon = ends.find((r) => r.from.includes(strip.id));
        const to = picture.boxes.find((b) => b.strip.id === strip.output);
        expect(ribbon?.to, strip.name).toBe(strip.output);
        expect(ribbon?.end.x).toBe(to?.x);
        expect(
          (ribbon?.end.y ?? 0) > (to?.y ?? 0) && (ribbon?.end.y ?? 0) < (to?.y ?? 0) + (to?.height ?? 0),
        ).toBe(true);
      }
      expect(picture.ribbons.flatMap((r) => numbers(r.path)).every(Number.isFinite)).toBe(true);
      expect(new Set(picture.ribbons.map((r) => r.key)).size).toBe(picture.ribbons.length);
    },
  );
});

describe('ribbons', () => {
  test('arrive in the order in which they leave, so that they do not cross', () => {
    const ends = ['Kick', 'Snare', 'Hat'].map(
      (name) => from(drawn(doc), 'output', channelOf(doc, name)).end.y,
    );
    expect(ends).toEqual(ends.toSorted((a, b) => a - b));
  });

  test('carry the family of their lane, and behind a bus that of all its lanes where it is one', () => {
    expect(from(drawn(doc), 'output', channelOf(doc, 'Snare')).kind).toBe('snare');
    const mixed = stripOf(doc, 'Drums');
    expect(from(drawn(doc), 'output', mixed).kind).toBe('bus');
    const alone = onDesk(lanes, bus('Snares', 'Snare')).document();
    expect(from(drawn(alone), 'output', stripOf(alone, 'Snares')).kind).toBe('snare');
  });

  test('of a muted lane are there and not heard', () => {
    const muted = onDesk(lanes, strips({ what: 'mute', to: true }, 'Kick')).document();
    const heard = ['Kick', 'Snare'].map((name) => from(drawn(muted), 'output', channelOf(muted, name)).heard);
    expect(heard).toEqual([false, true]);
  });

  test('of a lane that goes nowhere end in the open', () => {
    const open = onDesk(lanes, (d) => ({
      kind: 'set_output',
      strips: [channelOf(d, 'Hat')],
      output: null,
    })).document();
    expect(from(drawn(open), 'output', channelOf(open, 'Hat'))).toMatchObject({
      to: undefined,
      heard: false,
    });
  });

  test('of several lanes on one channel join the first', () => {
    const shared = onDesk(lanes, (d) => ({
      kind: 'share_channel',
      voices: [d.voices[1]?.id ?? 0],
      channel: channelOf(d, 'Kick'),
    })).document();
    const picture = drawn(shared);
    const joined = picture.ribbons.find((r) => r.key.endsWith('joined'));
    expect(joined?.from).toEqual([channelOf(shared, 'Kick')]);
    expect(
      means(picture, 'output').filter(
        (r) => r.to !== undefined && r.from.includes(channelOf(shared, 'Kick')),
      ),
    ).toHaveLength(1);
  });

  test('of a trigger are its key alone', () => {
    const triggered = onDesk(lanes, (d) => ({
      kind: 'new_trigger',
      like: d.voices[0]?.id ?? 0,
      follows: true,
    })).document();
    const trigger = triggered.strips.find((s) => s.kind === 'trigger')?.id ?? 0;
    expect(trigger).toBeGreaterThan(0);
    expect(drawn(triggered).ribbons.filter((r) => r.from.includes(trigger))).toEqual([]);
  });

  test('of sends and keys lead to what they feed', () => {
    const picture = drawn(doc);
    expect(from(picture, 'send', channelOf(doc, 'Snare'))).toMatchObject({
      to: stripOf(doc, 'Room'),
      heard: true,
    });
    expect(from(picture, 'key', channelOf(doc, 'Kick'))).toMatchObject({
      to: channelOf(doc, 'Bass'),
      heard: true,
      kind: 'low',
    });
  });

  test('of a processor that is off are not heard', () => {
    const off = structuredClone(doc);
    for (const strip of off.strips) for (const processor of strip.chain) processor.on = false;
    expect(means(drawn(off), 'key').map((r) => r.heard)).toEqual([false]);
  });

  test('of a folded family are one for each place that they go to', () => {
    const folded = onDesk(
      addLanes(newVoice('Hat', 'hats'), newVoice('Ride', 'hats'), newVoice('Crash', 'hats')),
      bus('Cymbals', 'Ride', 'Crash'),
    ).document();
    const picture = drawn(folded, []);
    const sources = means(picture, 'output').filter((r) => r.kind === 'hats' && r.path.startsWith('M0 '));
    expect(sources.map((r) => r.from.length).toSorted()).toEqual([1, 2]);
    expect(sources.find((r) => r.from.length === 2)?.thickness).toBeGreaterThan(
      sources.find((r) => r.from.length === 1)?.thickness ?? 0,
    );
    // Open again, each has its own.
    expect(means(drawn(folded, ['hats']), 'output').filter((r) => r.path.startsWith('M0 '))).toHaveLength(3);
  });
});

describe('what has to do with a strip', () => {
  test('of a lane are its ways on and its keys, not its neighbours', () => {
    const concerns = touching(doc, channelOf(doc, 'Kick'));
    const of = (what: Ribbon['means'], lane: string) =>
      concerns(from(drawn(doc), what, channelOf(doc, lane)));
    expect(of('output', 'Kick') && of('key', 'Kick')).toBe(true);
    expect(of('output', 'Snare') || of('send', 'Snare')).toBe(false);
  });

  test('of a bus are what feeds it and where it leads', () => {
    const concerns = touching(doc, stripOf(doc, 'Drums'));
    const picture = drawn(doc);
    const of = (what: Ribbon['means'], strip: number) => concerns(from(picture, what, strip));
    expect(['Kick', 'Snare', 'Hat'].every((name) => of('output', channelOf(doc, name)))).toBe(true);
    expect(of('output', stripOf(doc, 'Mix bus'))).toBe(true);
    expect(of('output', channelOf(doc, 'Bass')) || of('send', channelOf(doc, 'Snare'))).toBe(false);
  });
});
