import { flushSync } from 'svelte';
import { describe, expect, test, vi } from 'vitest';
import type { Edit, Session, StepRequest } from '$lib/api/types';
import { addLanes, coreModule, dice, newVoice } from '$testing/on-desk';
import { anEdit } from '$testing/an-edit';
import { Desk } from '$lib/audio/desk';
import type { Player } from '$lib/audio/player.svelte';
import { EMPTY, ModelServer } from '$lib/sync/model';
import type { SessionState as State } from './session.svelte';

const server = vi.hoisted(() => ({ way: undefined as unknown }));
vi.mock('$lib/api/client', () => ({
  api: {
    edit: (_: string, { id, base_revision, edit }: { id: string; base_revision: number; edit: Edit }) =>
      way().send({ kind: 'edit', id, label: '', at: 0, edit, made: [] }, base_revision),
    walk: (_: string, kind: 'undo' | 'redo', { id, base_revision, step }: StepRequest) =>
      way().send({ kind, id, label: '', at: 0, step }, base_revision),
    session: () => way().open(),
    known: (_: string, ids: string[]) => way().known(ids),
    step: (_: string, step: string) => way().step(step),
    changesAfter: (_: string, revision: number) => way().changesAfter(revision),
  },
}));
const way = () => server.way as ReturnType<ModelServer['way']>;

/** A page with three lanes and its server. */
async function page() {
  const { SessionState } = await import('./session.svelte');
  const model = new ModelServer(coreModule(), EMPTY);
  server.way = model.way();
  const player = { patch: () => undefined, open: () => undefined } as unknown as Player;
  const session: State = new SessionState(model.opened(), new Desk(coreModule()), player, undefined, []);
  session.apply(addLanes(newVoice('Kick'), newVoice('Snare', 'snare'), newVoice('Hat', 'hats')));
  const [kick, snare, hat] = session.doc.voices.map((v) => v.id);
  return { session, model, kick: kick ?? 0, snare: snare ?? 0, hat: hat ?? 0 };
}
const PATTERN = 3;
const hits = (voice: number, at: number): Edit => ({
  kind: 'set_hits',
  pattern: PATTERN,
  voice,
  hits: [{ at_ticks: at, length_ticks: 240, velocity: 100, tune_st: 0 }],
});
const ghosts = (voice: number): Edit => ({
  kind: 'change_hits',
  pattern: PATTERN,
  voices: [voice],
  range: { from: 0, bars: 1 },
  change: { kind: 'ghosts', velocity: 28, step_ticks: 240, density_percent: 60, seed: 1 },
});

/** Everything that makes a piece that was not there, or takes one away. */
const PIECES: [string, (of: { kick: number; snare: number; hat: number }) => Edit][] = [
  ['the first hit of a lane', ({ kick }) => hits(kick, 0)],
  ['a lane', () => addLanes(newVoice('Tom'))],
  ['a pattern', () => ({ kind: 'add_pattern', name: 'B', bars: 2, copy_of: null })],
  ['a section', () => ({ kind: 'add_section', name: 'B', pattern: PATTERN, bars: 2, at: 1 })],
  ['a return', () => ({ kind: 'new_return', name: 'Room', feeders: [], silent: true })],
  ['a lane less', ({ snare }) => ({ kind: 'remove_voices', voices: [snare] })],
];

describe('a trial that ends with what it is about', () => {
  test.each(PIECES)('leaves the document as the core has it: %s', async (_, make) => {
    const made = await page();
    const { session, model, hat } = made;
    session.apply(hits(hat, 480));
    session.startTrial('Ghost notes', ghosts(hat));
    expect(session.trial).toBeDefined();
    const end = $effect.root(() => {
      $effect(() => {
        void [session.doc.parts, session.doc.voices, session.doc.patterns, session.doc.sections];
        return () => session.dropTrial();
      });
    });
    flushSync();
    const edit = make(made);
    // Shown first, as under a pointer, then done.
    session.try(edit);
    flushSync();
    expect(session.doc).toEqual(session.desk.document());
    session.apply(edit);
    expect(session.message).toBe('');
    flushSync();
    expect(session.doc).toEqual(session.desk.document());
    end();
    await session.settled();
    expect(session.trial).toBeUndefined();
    expect(model.document).toEqual(session.doc);
  });
});

/** A document without its next free id, which does not fall with what is taken back. */
const pieces = (doc: Session) => ({ ...doc, next_id: 0 });

describe('trials together with edits of every kind, in every order', () => {
  const seeds = Array.from({ length: Number(process.env['SEEDS'] ?? 24) }, (_, n) => n + 1);
  test.each(seeds)(
    'show what the core has, and leave what the server has (seed %i)',
    async (seed) => {
      const { session, model } = await page();
      const roll = dice(seed);
      const ofLane = () => session.doc.voices[roll(session.doc.voices.length)]?.id ?? 0;
      const doings: (() => void)[] = [
        () => session.startTrial('Ghost notes', ghosts(ofLane())),
        () => session.startTrial('Random fill', anEdit(session.doc, roll)),
        () => session.keepTrial(),
        () => session.dropTrial(),
        () => session.try(anEdit(session.doc, roll)),
        () => session.cancelLive(),
        () => void session.apply(anEdit(session.doc, roll)),
        () => void session.apply(hits(ofLane(), 240 * roll(16))),
        () => session.undo(),
        () => session.redo(),
        () => void session.fit([anEdit(session.doc, roll)]),
      ];
      for (let n = 0; n < 60; n += 1) {
        doings[roll(doings.length)]?.();
        // What is sent and answered meanwhile comes in between.
        if (roll(3) === 0) await Promise.resolve();
        expect(pieces(session.doc)).toEqual(pieces(session.desk.document()));
      }
      session.endTrial();
      await session.settled();
      await vi.waitFor(() => expect(pieces(model.document)).toEqual(pieces(session.doc)));
      expect(session.settledDoc).toEqual(session.doc);
    },
    30_000,
  );
});

test('where the browser keeps nothing, it is said that changes are in this tab alone', async () => {
  const { session, model } = await page();
  await session.settled();
  expect(session.whereabouts).toBe('');
  model.fate = () => 'lost';
  session.apply(addLanes(newVoice('Tom')));
  await vi.waitFor(() => expect(session.trouble).toBeDefined());
  expect(session.trouble?.sentence).not.toMatch(/kept/);
  expect(session.whereabouts).toBe('1 change is in this tab alone; do not close it yet.');
});
