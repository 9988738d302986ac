import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { api } from '$lib/api/client';
import type { Session, SnapshotLine } from '$lib/api/types';
import { addLanes, newVoice, onDesk, sessionOn } from '$testing/on-desk';
import type { Player } from '$lib/audio/player.svelte';
import type { BoardState } from '$lib/state/board.svelte';
import type { Asking, Gauge } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { NOW, Sides } from './sides.svelte';
import { Versions } from './versions.svelte';

const NONE = { lufs: null, short_term_lufs: null, true_peak_dbtp: null, crest_db: null };
const line = (id: string, name: string): SnapshotLine => ({
  id,
  name,
  by_hand: true,
  taken_at: '2026-11-28T09:00:00Z',
  figures: NONE,
  bytes: 900,
});

/** A session on a real desk with snapshots that a server would have. */
function comparing() {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare')));
  const kept = new Map<string, { line: SnapshotLine; document: Session }>();
  const session = sessionOn(desk);
  const measured = {
    lufs: -17,
    short_term_lufs: -15,
    true_peak_dbtp: -5,
    crest_db: 12,
    octaves: { hz: [], db: [] },
    seconds: 8,
    momentary_lufs: [],
  };
  type Ask = (doing: string, question: object, asking?: Asking) => Promise<typeof measured>;
  const side = vi.fn<Ask>(() => Promise.resolve(measured));
  const gauge = { part: undefined, span: { from: 0, to: 1 }, ask: side };
  const player = {
    put: () => undefined,
    hear: () => undefined,
    listen: () => undefined,
    heard: 0,
    stands: [],
  };
  vi.spyOn(api, 'snapshots').mockImplementation(() => Promise.resolve([...kept.values()].map((k) => k.line)));
  vi.spyOn(api, 'takeSnapshot').mockImplementation((_, { name }) => {
    const id = `s${kept.size}`;
    kept.set(id, { line: line(id, name), document: structuredClone(session.doc) });
    return Promise.resolve({ id, remarks: [] });
  });
  vi.spyOn(api, 'snapshot').mockImplementation((_, id) => {
    const found = kept.get(id);
    return found ? Promise.resolve(found.document) : Promise.reject(new Error('The snapshot is not there.'));
  });
  vi.spyOn(api, 'changeSnapshot').mockImplementation((_, id, { figures }) => {
    const old = kept.get(id);
    if (old && figures) kept.set(id, { ...old, line: { ...old.line, figures } });
    return Promise.resolve();
  });
  vi.spyOn(api, 'removeSnapshot').mockImplementation((_, id) => {
    kept.delete(id);
    return Promise.resolve();
  });
  const sides = new Sides(
    session as unknown as SessionState,
    {} as BoardState,
    player as unknown as Player,
    gauge as unknown as Gauge,
  );
  const versions = new Versions(session as unknown as SessionState, sides);
  const channel = (at: number) => session.doc.voices[at]?.channel ?? 0;
  const set = (at: number, to: number) =>
    session.apply({ kind: 'set_strips', strips: [channel(at)], change: { what: 'fader_db', to } });
  const fader = (at: number) => session.doc.strips.find((s) => s.id === channel(at))?.fader_db;
  return { versions, sides, session, kept, set, fader, channel, side, measured };
}

beforeEach(() => vi.restoreAllMocks());
afterEach(() => vi.useRealTimers());

/** One snapshot, then both faders moved, and the snapshot held against now. */
async function moved() {
  const t = comparing();
  await t.versions.take('Before');
  t.set(0, -6.5);
  t.set(1, -3);
  const [first] = t.versions.list ?? [];
  if (first) await t.sides.addSnapshot(first);
  t.versions.compare();
  return t;
}

describe('a snapshot', () => {
  test('is taken once the server has everything, and listed', async () => {
    const t = comparing();
    await t.versions.take('Before');
    expect(t.versions.list?.map((l) => l.name)).toEqual(['Before']);
    expect(api.takeSnapshot).toHaveBeenCalledWith('session', {
      name: 'Before',
      by_hand: true,
      figures: NONE,
    });
  });

  test('is measured behind it', async () => {
    const t = comparing();
    await t.versions.take('Before');
    await vi.waitFor(() => expect(t.versions.list?.[0]?.figures.lufs).toBe(-17));
    expect(t.versions.list?.[0]?.figures).toEqual({
      lufs: -17,
      short_term_lufs: -15,
      true_peak_dbtp: -5,
      crest_db: 12,
    });
    expect(t.sides.figuresOf(NOW)?.lufs).toBe(-17);
  });

  test('is measured as it was, whatever changes meanwhile', async () => {
    const t = comparing();
    let end: (figures: typeof t.measured) => void = () => undefined;
    t.side.mockReturnValueOnce(new Promise((resolve) => (end = resolve)));
    await t.versions.take('Before');
    await vi.waitFor(() => expect(t.side).toHaveBeenCalled());
    t.set(0, -6.5);
    end(t.measured);
    await vi.waitFor(() => expect(t.versions.list?.[0]?.figures.lufs).toBe(-17));
    const [played] = t.side.mock.calls.map(([, , asking]) => asking?.session);
    expect(played?.strips.find((s) => s.id === t.channel(0))?.fader_db).toBe(0);
    expect(t.sides.figuresOf(NOW)).toBeUndefined();
  });

  test('of the program gets what was measured of it as a side, once', async () => {
    const t = comparing();
    await t.versions.before('Before render 1');
    await t.versions.refresh();
    const [first] = t.versions.list ?? [];
    if (first) await t.sides.addSnapshot(first);
    t.versions.keepFigures();
    expect(api.changeSnapshot).not.toHaveBeenCalled();
    await vi.waitFor(() => expect(t.sides.measured).toBe(true));
    // The server is away at first.
    vi.mocked(api.changeSnapshot).mockRejectedValueOnce(new Error('The database does not answer right now.'));
    t.versions.keepFigures();
    await vi.waitFor(() => expect(t.versions.problem).toBe('The database does not answer right now.'));
    t.versions.keepFigures();
    t.versions.keepFigures();
    await vi.waitFor(() => expect(t.versions.list?.[0]?.figures.lufs).toBe(-17));
    expect(api.changeSnapshot).toHaveBeenCalledTimes(2);
  });

  test('that is held against now says what differs, row by row', async () => {
    const { versions, channel } = await moved();
    expect(versions.of(channel(0)).map((d) => [d.now, d.then])).toEqual([['fader -6.5 dB', 'fader 0.0 dB']]);
    expect(versions.of(channel(1))).toHaveLength(1);
    expect(versions.of(2)).toEqual([]);
  });

  test('gives single differences, and all of it in one step behind a snapshot of now', async () => {
    const { versions, fader, channel, kept } = await moved();
    const [one] = versions.of(channel(0));
    if (one) await versions.takeOver(one);
    expect([fader(0), fader(1)]).toEqual([0, -3]);
    expect(versions.differences?.list).toHaveLength(1);
    await versions.goBack();
    expect([fader(0), fader(1)]).toEqual([0, 0]);
    expect([...kept.values()].map((k) => k.line.name)).toEqual(['Before', 'Before going back to Before']);
    expect(versions.differences?.list).toEqual([]);
  });

  test('that is gone is said, and nothing is held against now', async () => {
    const { versions, sides } = comparing();
    await sides.addSnapshot(line('gone', 'Gone'));
    expect(sides.problem).toBe('The snapshot is not there.');
    expect(versions.other).toBeUndefined();
  });

  test('that is removed is not held against now any more', async () => {
    const { versions } = await moved();
    await versions.remove('s0');
    expect([versions.other, versions.list]).toEqual([undefined, []]);
  });

  test('of the program holds nothing up where the server does not answer', async () => {
    vi.useFakeTimers();
    const { versions } = comparing();
    vi.spyOn(api, 'takeSnapshot').mockImplementation(() => new Promise(() => {}));
    const done = versions.before('Before render 1');
    await vi.advanceTimersByTimeAsync(2000);
    await expect(done).resolves.toBeUndefined();
  });
});
