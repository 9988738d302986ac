import { describe, expect, test } from 'vitest';
import type { Edit, Session } from '$lib/api/types';
import { Desk } from '$lib/audio/desk';
import { coreModule, dice } from '$testing/on-desk';
import { Refused } from '$lib/audio/refused';
import { Machine } from './machine';
import { EMPTY, ModelKeep, ModelPage, ModelServer, type Fate } from './model';
import type { Waiting } from './types';

const module = coreModule();
let ids = 0;

/** One page: its core, its machine, its storage. */
function page(server: ModelServer, left: Waiting[] = [], keep = new ModelKeep()) {
  const core = new Desk(module);
  const shown = new ModelPage();
  const wakes: (() => void)[] = [];
  const clock = {
    // Pauses end when the test says so.
    pause: () => new Promise<void>((resolve) => wakes.push(resolve)),
    now: () => (ids += 1),
    id: () => `c${(ids += 1)}`,
  };
  const machine = new Machine(core, server.way(), keep, shown, clock);
  const ready = machine.open(server.opened(), left);
  return { core, shown, machine, keep, ready, wake: () => wakes.splice(0).forEach((w) => w()) };
}
type Page = ReturnType<typeof page>;

/** Lets everything that is under way happen. */
async function settle(pages: Page[], rounds = 60): Promise<void> {
  for (let round = 0; round < rounds; round += 1) {
    await new Promise((resolve) => setImmediate(resolve));
    pages.forEach((p) => p.wake());
  }
}

const bus = (name: string): Edit => ({ kind: 'new_bus', name, feeders: [] });
const rename = (strip: number, name: string): Edit => ({ kind: 'rename_strip', strip, name });
const names = (doc: Session) => doc.strips.map((s) => s.name);
/** Names in the order in which a document has them. */
const byPlace = (server: ModelServer) => (a: string, b: string) =>
  names(server.document).indexOf(a) - names(server.document).indexOf(b);
const made = (p: Page, name: string) => p.core.document().strips.find((s) => s.name === name)?.id ?? -1;

describe('one page', () => {
  test('what is done is kept, then saved, and says so only then', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    expect(one.machine.state).toBe('saved');
    one.machine.do(bus('Drums'));
    expect(one.machine.state).toBe('waiting');
    await Promise.resolve();
    await Promise.resolve();
    expect(one.machine.state).toBe('kept');
    await settle([one]);
    expect(one.machine.state).toBe('saved');
    expect(one.keep.kept).toEqual([]);
    expect(names(server.document)).toContain('Drums');
  });

  test('without storage it never says that something is kept', async () => {
    const server = new ModelServer(module, EMPTY, () => 'lost');
    const keep = new ModelKeep();
    keep.works = false;
    const one = page(server, [], keep);
    await one.ready;
    one.machine.do(bus('Drums'));
    await settle([one], 3);
    expect(one.machine.state).toBe('waiting');
    expect(one.machine.trouble?.sentence).not.toMatch(/kept/);
  });

  test.each<[Fate, string]>([
    ['lost', 'again'],
    ['failed', 'again'],
    ['busy', 'again'],
    ['answer lost', 'again'],
    ['signed out', 'sign-in'],
  ])('an answer that is %s loses nothing and doubles nothing', async (fate, then) => {
    let fates: Fate[] = [fate, fate, fate];
    const server = new ModelServer(module, EMPTY, () => fates.shift() ?? 'fine');
    const one = page(server);
    await one.ready;
    fates = [fate, fate, fate];
    one.machine.do(bus('Drums'));
    await new Promise((resolve) => setImmediate(resolve));
    expect(one.machine.trouble?.then).toBe(then);
    expect(one.machine.state).not.toBe('saved');
    fates = [];
    one.machine.resume();
    await settle([one]);
    expect(one.machine.trouble).toBeUndefined();
    expect(names(server.document).filter((n) => n === 'Drums')).toHaveLength(1);
    expect(one.core.document()).toEqual(server.document);
  });

  test('an edit that the server refuses is taken back alone, with a sentence that says which and why', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    one.machine.do(bus('First'));
    await settle([one]);
    server.fate = () => 'lost';
    one.machine.do(bus('Second'));
    one.machine.do(bus('Third'));
    await settle([one], 3);
    server.refuses.add(one.keep.kept[0]?.id ?? '');
    server.fate = () => 'fine';
    await settle([one]);
    expect(names(server.document)).toEqual(expect.arrayContaining(['First', 'Third']));
    expect(names(server.document)).not.toContain('Second');
    expect(one.shown.said_).toEqual(['“New bus Second” was taken back: the audio is not yours.']);
    expect(one.core.document()).toEqual(server.document);
  });

  test('what builds on a refused edit goes with it, named', async () => {
    const server = new ModelServer(module, EMPTY, () => 'lost');
    const one = page(server);
    await one.ready;
    one.machine.do(bus('Wrong'));
    one.machine.do(rename(made(one, 'Wrong'), 'Renamed'));
    one.machine.do(rename(2, 'Sum'));
    await settle([one], 3);
    server.refuses.add(one.keep.kept[0]?.id ?? '');
    server.fate = () => 'fine';
    await settle([one]);
    expect(names(server.document)).toEqual(['Main', 'Sum']);
    expect(one.shown.said_[1]).toBe(
      '“Rename Wrong to Renamed” was taken back: it builds on “New bus Wrong”, which is gone.',
    );
  });

  test('a change that can never be saved can be left out, and the rest goes on', async () => {
    let large = true;
    const server = new ModelServer(module, EMPTY);
    const way = server.way();
    const one = page(server);
    await one.ready;
    const send = way.send;
    // Only the first change is too large.
    Object.assign((one.machine as unknown as { server: typeof way }).server, {
      send: async (change: Waiting, base: number) => {
        const { ApiError } = await import('$lib/api/problem');
        if (large && change.label.includes('Large'))
          throw new ApiError(413, 'The request is larger than 16384 KiB.');
        return send(change, base);
      },
    });
    one.machine.do(bus('Large'));
    one.machine.do(bus('Small'));
    await settle([one]);
    expect(one.machine.trouble).toMatchObject({ then: 'ask' });
    expect(one.machine.trouble?.sentence).toContain('“New bus Large” cannot be saved');
    large = false;
    one.machine.leaveOut();
    await settle([one]);
    expect(names(server.document)).toContain('Small');
    expect(names(server.document)).not.toContain('Large');
    expect(one.machine.state).toBe('saved');
  });

  test('what the core refuses never waits', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    expect(() => one.machine.do(rename(2, 'a\0b'))).toThrow(Refused);
    expect(() => one.machine.do({ kind: 'set_output', strips: [2], output: 2 })).toThrow(Refused);
    expect(one.machine.unsent).toBe(0);
  });
});

describe('undo', () => {
  test('of a change that was not sent yet makes it never happen; redo makes it anew', async () => {
    const server = new ModelServer(module, EMPTY, () => 'lost');
    const one = page(server);
    await one.ready;
    one.machine.do(bus('First'));
    await settle([one], 2);
    one.machine.do(bus('Second'));
    const next = one.core.document().next_id;
    one.machine.undo();
    expect(one.machine.unsent).toBe(1);
    expect(one.machine.redoable[0]?.label).toBe('New bus Second');
    one.machine.redo();
    expect(one.core.document().next_id).toBe(next);
    server.fate = () => 'fine';
    await settle([one]);
    expect(server.changes.map((c) => c.label)).toEqual(['New bus First', 'New bus Second']);
    expect(one.core.document()).toEqual(server.document);
  });

  test('of a change whose answer was lost is sent too, since the server may have it', async () => {
    const server = new ModelServer(module, EMPTY, () => 'answer lost');
    const one = page(server);
    await one.ready;
    one.machine.do(bus('Drums'));
    await new Promise((resolve) => setImmediate(resolve));
    one.machine.undo();
    expect(one.machine.unsent).toBe(2);
    server.fate = () => 'fine';
    await settle([one]);
    expect(server.changes.map((c) => c.kind)).toEqual(['edit', 'undo']);
    expect(names(server.document)).not.toContain('Drums');
  });

  test('works offline, at once, once for each press, and says what it undoes', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    for (const name of ['A', 'B', 'C']) one.machine.do(bus(name));
    await settle([one]);
    server.fate = () => 'lost';
    expect(one.machine.undoable[0]?.label).toBe('New bus C');
    one.machine.undo();
    one.machine.undo();
    expect(names(one.core.document())).not.toContain('B');
    one.machine.redo();
    server.fate = () => 'fine';
    await settle([one]);
    expect(names(server.document)).toEqual(expect.arrayContaining(['A', 'B']));
    expect(names(server.document)).not.toContain('C');
    expect(one.core.document()).toEqual(server.document);
  });

  test('is dropped with a sentence where another page changed something first', async () => {
    const server = new ModelServer(module, EMPTY);
    const [one, two] = [page(server), page(server)];
    await Promise.all([one.ready, two.ready]);
    one.machine.do(bus('Mine'));
    await settle([one, two]);
    two.machine.heard(server.revision);
    await settle([one, two]);
    two.machine.do(bus('Theirs'));
    await settle([two]);
    one.machine.undo();
    await settle([one, two]);
    expect(one.shown.said_).toEqual([
      'Undoing “New bus Mine” was dropped: something else was changed meanwhile.',
    ]);
    expect(names(server.document)).toEqual(expect.arrayContaining(['Mine', 'Theirs']));
    expect(one.core.document()).toEqual(server.document);
  });
});

describe('a large step', () => {
  /** A page that opens a session whose steps come without their ways. */
  async function opened() {
    const server = new ModelServer(module, EMPTY);
    const before = page(server);
    await before.ready;
    before.machine.do(bus('A'));
    before.machine.do(bus('B'));
    await settle([before]);
    server.stepsWithWays = 0;
    const one = page(server);
    await one.ready;
    expect(one.machine.undoable.map((s) => s.back)).toEqual([null, null]);
    return { server, one };
  }

  test('is fetched when it is undone, and done again', async () => {
    const { server, one } = await opened();
    one.machine.undo();
    one.machine.undo();
    expect(one.shown.said_).toEqual(['Fetching what “New bus B” changed.']);
    await settle([one]);
    expect(names(server.document)).not.toContain('B');
    expect(names(server.document)).toContain('A');
    expect(one.shown.said_.at(-1)).toBe('Undone: New bus B');
    one.machine.redo();
    await settle([one]);
    expect(names(server.document)).toContain('B');
  });

  test('is not undone where it is not here, is forgotten, or something was done meanwhile, and says so', async () => {
    const { server, one } = await opened();
    server.fate = () => 'lost';
    one.machine.undo();
    await settle([one]);
    expect(one.shown.said_.at(-1)).toMatch(
      /^Not undone: what “New bus B” changed is not here\. The server cannot/,
    );
    server.fate = () => 'fine';
    server.forgetSteps();
    one.machine.undo();
    await settle([one]);
    expect(one.shown.said_.at(-1)).toBe('Not undone: “New bus B” was made too long ago.');
    expect(names(server.document)).toContain('B');
    const { server: another, one: busy } = await opened();
    busy.machine.undo();
    busy.machine.do(bus('C'));
    await settle([busy]);
    expect(busy.shown.said_.at(-1)).toBe('Not undone: “New bus B” is not the next step any more.');
    expect(names(another.document)).toEqual(expect.arrayContaining(['A', 'B', 'C']));
  });

  test('that waits to be undone in a tab that died is undone by the next one', async () => {
    const { server, one } = await opened();
    one.machine.undo();
    await settle([one], 1);
    server.fate = () => 'lost';
    one.machine.redo();
    await settle([one]);
    one.machine.close();
    const left = structuredClone(one.keep.kept);
    expect(left.map((w) => w.kind)).toEqual(['redo']);
    server.fate = () => 'fine';
    const two = page(server, left);
    await two.ready;
    await settle([two]);
    expect(names(server.document)).toContain('B');
    expect(two.machine.state).toBe('saved');
  });
});

describe('ids', () => {
  test('of things made while others made things too are what they became, in later changes and on screen', async () => {
    const server = new ModelServer(module, EMPTY);
    const [one, two] = [page(server), page(server)];
    await Promise.all([one.ready, two.ready]);
    two.machine.do(bus('Theirs'));
    await settle([two]);
    one.machine.do(bus('Mine'));
    const predicted = made(one, 'Mine');
    one.machine.do(rename(predicted, 'Mine too'));
    expect(made(two, 'Theirs')).toBe(predicted);
    await settle([one, two]);
    expect(names(server.document)).toEqual(expect.arrayContaining(['Mine too', 'Theirs']));
    expect(one.shown.renames).toContainEqual([predicted, made(one, 'Mine too')]);
    expect(one.core.document()).toEqual(server.document);
  });

  test('of an undone thing are not given to another thing', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    one.machine.do(bus('Gone'));
    await settle([one]);
    const gone = made(one, 'Gone');
    one.machine.undo();
    await settle([one]);
    one.machine.do(bus('New'));
    await settle([one]);
    expect(made(one, 'New')).toBeGreaterThan(gone);
    expect(one.core.document()).toEqual(server.document);
  });
});

describe('changes of others', () => {
  /** Two pages, one of which made some changes that the other does not have. */
  async function apart(changes: number) {
    const server = new ModelServer(module, EMPTY);
    const [one, two] = [page(server), page(server)];
    await Promise.all([one.ready, two.ready]);
    for (let n = 0; n < changes; n += 1) one.machine.do(bus(`Theirs ${n}`));
    await settle([one]);
    return { server, one, two };
  }

  test.each([1, 7])('are followed by their patches alone: %i of them', async (changes) => {
    const { server, two } = await apart(changes);
    server.mostAtOnce = 3;
    two.machine.heard(server.revision);
    await settle([two]);
    expect(two.core.document()).toEqual(server.document);
    expect(two.machine.undoable.map((s) => s.label)).toEqual(server.opened().undo.map((s) => s.label));
    expect(server.opens).toBe(0);
  });

  test('come under what waits here, which is sent on without asking for the whole', async () => {
    const { server, two } = await apart(2);
    two.machine.do(rename(2, 'Sum'));
    two.machine.do(bus('Mine'));
    await settle([two]);
    expect(names(server.document)).toEqual(
      ['Main', 'Sum', 'Theirs 0', 'Theirs 1', 'Mine'].sort(byPlace(server)),
    );
    expect(two.core.document()).toEqual(server.document);
    expect(two.shown.renames).toHaveLength(1);
    expect(server.opens).toBe(0);
  });

  test('that are not told any more are read as a whole', async () => {
    const { server, two } = await apart(3);
    server.forgotten = server.revision - 1;
    two.machine.heard(server.revision);
    await settle([two]);
    expect(two.core.document()).toEqual(server.document);
    expect(server.opens).toBe(1);
  });

  test('wait for a hand that tries something out, and what it tries is not theirs', async () => {
    const { server, two } = await apart(1);
    two.machine.try({ kind: 'set_strips', strips: [2], change: { what: 'fader_db', to: -20 } });
    two.machine.heard(server.revision);
    await settle([two], 4);
    expect(two.machine.behind).toBe(true);
    two.machine.cancelLive();
    await settle([two]);
    expect(two.machine.behind).toBe(false);
    expect(two.core.document()).toEqual(server.document);
  });

  test('undone and done again walk the steps here too', async () => {
    const { server, one, two } = await apart(2);
    one.machine.undo();
    await settle([one]);
    two.machine.heard(server.revision);
    await settle([two]);
    expect(two.machine.redoable.map((s) => s.label)).toEqual(['New bus Theirs 1']);
    two.machine.redo();
    await settle([two]);
    one.machine.heard(server.revision);
    await settle([one]);
    expect(one.core.document()).toEqual(two.core.document());
    expect(server.opens).toBe(0);
  });
});

describe('a tab that died', () => {
  test('leaves what it kept to the next one, which sends it once', async () => {
    const server = new ModelServer(module, EMPTY);
    const one = page(server);
    await one.ready;
    server.fate = () => 'answer lost';
    one.machine.do(bus('Saved, unknown to the tab'));
    await new Promise((resolve) => setImmediate(resolve));
    server.fate = () => 'lost';
    one.machine.do(bus('Kept'));
    one.machine.do(rename(made(one, 'Kept'), 'Kept and renamed'));
    await settle([one], 2);
    one.machine.close();
    const left = structuredClone(one.keep.kept);
    expect(left).toHaveLength(3);
    server.fate = () => 'fine';
    const two = page(server, left);
    await two.ready;
    await settle([two]);
    expect(names(server.document)).toEqual(
      ['Main', 'Saved, unknown to the tab', 'Kept and renamed', 'Mix bus'].sort(
        (a, b) => names(server.document).indexOf(a) - names(server.document).indexOf(b),
      ),
    );
    expect(server.changes).toHaveLength(3);
    expect(two.core.document()).toEqual(server.document);
    expect(two.machine.state).toBe('saved');
  });
});

describe('any interleaving', () => {
  const seeds = Array.from({ length: Number(process.env.SEEDS ?? 60) }, (_, n) => n + 1);
  test.each(seeds)(
    'of edits, undo, redo, faults, deaths and refusals on three pages ends in one document (seed %i)',
    async (seed) => {
      const roll = dice(seed);
      const fates: Fate[] = ['fine', 'fine', 'fine', 'fine', 'lost', 'answer lost', 'failed', 'busy'];
      const server = new ModelServer(module, EMPTY, () => fates[roll(fates.length)] as Fate);
      server.mostAtOnce = 1 + roll(6);
      server.stepsWithWays = [0, 1, 50][roll(3)] ?? 0;
      const pages = [page(server), page(server), page(server)];
      await Promise.all(pages.map((p) => p.ready));
      for (let step = 0; step < 40; step += 1) {
        const at = roll(pages.length);
        const one = pages[at] as Page;
        const strips = one.core.document().strips.filter((s) => s.kind === 'bus');
        const strip = strips[roll(strips.length)]?.id ?? 2;
        try {
          switch (roll(11)) {
            case 10:
              // A hand that drags, or lets go; and patches are not kept for ever.
              if (roll(2) === 0) one.machine.cancelLive();
              else
                one.machine.try({
                  kind: 'set_strips',
                  strips: [2],
                  change: { what: 'pan_percent', to: step },
                });
              if (roll(4) === 0) server.forgotten = server.revision;
              break;
            case 0:
            case 1:
              one.machine.do(bus(`B${step}`));
              break;
            case 2:
              one.machine.do(rename(strip, `R${step}`));
              break;
            case 3:
              one.machine.do({
                kind: 'set_strips',
                strips: [strip],
                change: { what: 'fader_db', to: -roll(40) },
              });
              break;
            case 4:
              one.machine.do({
                kind: 'set_output',
                strips: [strip],
                output: strips[roll(strips.length)]?.id ?? null,
              });
              break;
            case 5:
              one.machine.do({ kind: 'remove_strip', strip, feeders_to: 2 });
              break;
            case 6:
              one.machine.undo();
              break;
            case 7:
              one.machine.redo();
              break;
            case 8:
              // The tab dies; the next one takes over what was kept.
              await settle([one], 1);
              one.machine.close();
              pages[at] = page(server, structuredClone(one.keep.kept), one.keep);
              break;
            default:
              pages.forEach((p) => p.machine.heard(server.revision));
              await settle(pages, roll(4));
          }
        } catch (error) {
          if (!(error instanceof Refused)) throw error;
        }
      }
      server.fate = () => 'fine';
      pages.forEach((p) => p.machine.cancelLive());
      for (let round = 0; round < 6; round += 1) {
        pages.forEach((p) => p.machine.heard(server.revision));
        await settle(pages);
      }
      for (const p of pages) {
        expect(p.machine.state).toBe('saved');
        expect(p.machine.revision).toBe(server.revision);
        expect(p.core.document()).toEqual(server.document);
        expect({ ...p.shown.shown, next_id: 0 }).toEqual({ ...server.document, next_id: 0 });
      }
      expect(new Set(server.changes.map((c) => c.id)).size).toBe(server.changes.length);
    },
  );
});
