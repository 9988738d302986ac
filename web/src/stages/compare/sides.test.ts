import { beforeEach, describe, expect, test, vi } from 'vitest';
import { api } from '$lib/api/client';
import type { Question, RenderLine, SideFigures, SnapshotLine } from '$lib/api/types';
import type { Levels } from '$lib/audio/messages';
import { addLanes, newVoice, onDesk, sessionOn } from '$testing/on-desk';
import type { Player, SideSound } from '$lib/audio/player.svelte';
import { Blind } from './blind.svelte';
import type { BoardState } from '$lib/state/board.svelte';
import type { Gauge } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';
import { Sides } from './sides.svelte';

const figures = (lufs: number | null): SideFigures => ({
  lufs,
  short_term_lufs: lufs,
  true_peak_dbtp: -3,
  crest_db: 12,
  octaves: { hz: [], db: [] },
  seconds: 8,
  momentary_lufs: [],
});
const asset = (n: number) => ({
  id: String(n).repeat(64),
  name: 'pier.wav',
  channels: 2,
  sample_rate: 48_000,
  frames: 96_000,
});

/** A session on a real desk; sides are as loud as the test says. */
function holding(loud: Record<string, number | null> = {}) {
  const desk = onDesk(addLanes(newVoice('Kick'), newVoice('Snare', 'snare')));
  const asked: string[] = [];
  const put: [number, SideSound | undefined][] = [];
  const heard: [number, Levels][] = [];
  const session = sessionOn(desk);
  const gauge = {
    part: undefined as number | undefined,
    span: { from: 0, to: 384_000 },
    ask: (doing: string, asks: Question): Promise<SideFigures | undefined> => {
      asked.push(doing);
      const without = asks.about === 'side' && asks.without;
      const key = asks.about === 'side_recording' ? asks.asset : without ? 'without' : doing.slice(10);
      return Promise.resolve(figures(key in loud ? (loud[key] ?? null) : -18));
    },
  };
  const player = {
    heard: 0,
    standing: (at: number): Promise<boolean> => Promise.resolve(at >= 0),
    put: (at: number, sound: SideSound | undefined) => void put.push([at, sound]),
    hear: (at: number, levels: Levels) => {
      player.heard = at;
      heard.push([at, levels]);
    },
    listen: () => undefined,
  };
  const sides = new Sides(
    session as unknown as SessionState,
    { frameOf: (bar: number) => bar * 96_000 } as BoardState,
    player as unknown as Player,
    gauge as unknown as Gauge,
  );
  vi.spyOn(api, 'snapshot').mockImplementation(() => Promise.resolve(structuredClone(session.doc)));
  const snapshot = (id: string) => sides.addSnapshot({ id, name: id } as SnapshotLine);
  return { sides, session, desk, gauge, player, asked, put, heard, snapshot };
}
const last = <T>(list: T[]): T | undefined => list.at(-1);
beforeEach(() => vi.restoreAllMocks());

describe('sides', () => {
  test('are heard as loud as the softest of them, once all were measured', async () => {
    const t = holding({ Now: -14, without: -20.5 });
    t.sides.without();
    await t.sides.hear(1);
    expect(t.asked).toEqual(['Measuring Now', 'Measuring Without processors']);
    expect(t.sides.offsets).toEqual([-6.5, 0]);
    expect(last(t.heard)).toEqual([1, [-6.5, 0, 0]]);
    expect(t.sides.name).toBe('B Without processors');
    await t.sides.next();
    expect([t.sides.name, last(t.heard)?.[0]]).toEqual(['A Now', 0]);
  });

  test('are measured once, and again where they changed, without holding the switch up', async () => {
    const t = holding();
    await t.snapshot('Then');
    await t.sides.measure();
    expect(t.asked).toHaveLength(2);
    const strips = [t.session.doc.voices[0]?.channel ?? 0];
    t.session.apply({ kind: 'set_strips', strips, change: { what: 'fader_db', to: -3 } });
    expect(t.sides.stale).toBe(true);
    await t.sides.hear(1);
    expect(t.player.heard).toBe(1);
    await t.sides.measure();
    expect(t.asked.slice(2)).toEqual(['Measuring Now']);
    t.gauge.span = { from: 0, to: 96_000 };
    await t.sides.measure();
    expect(t.asked).toHaveLength(5);
  });

  test('that stand late do not take the place of what was asked for meanwhile', async () => {
    const t = holding();
    let stand: (stands: boolean) => void = () => undefined;
    t.player.standing = (at: number) =>
      at === 0 ? Promise.resolve(true) : new Promise<boolean>((resolve) => (stand = resolve));
    t.sides.without();
    await t.sides.measure();
    const late = t.sides.hear(1);
    await t.sides.hear(0);
    stand(true);
    await late;
    expect(t.player.heard).toBe(0);
    const gone = t.sides.hear(1);
    stand(false);
    await gone;
    expect(t.player.heard).toBe(0);
  });

  test('that could not be measured are not heard', async () => {
    const t = holding();
    t.gauge.ask = () => Promise.resolve(undefined);
    t.sides.without();
    await t.sides.hear(1);
    expect(t.player.heard).toBe(0);
  });

  test('that are silent are not matched to', async () => {
    const t = holding({ Now: -14, without: null });
    t.sides.without();
    await t.sides.hear(1);
    expect(t.sides.offsets).toEqual([0, 0]);
  });

  test('are at most three; one more takes the place of the last', async () => {
    const t = holding();
    await t.snapshot('First');
    await t.snapshot('Second');
    await t.sides.hear(2);
    await t.snapshot('Third');
    expect(t.sides.all.map((s) => s.name)).toEqual(['Now', 'First', 'Third']);
    expect(t.player.heard).toBe(0);
    await t.snapshot('Third');
    expect(t.sides.others).toHaveLength(2);
  });

  test('that go leave the others where they are, heard without a break and as loud as is left', async () => {
    const t = holding({ Now: -14, First: -20, Second: -16 });
    await t.snapshot('First');
    await t.snapshot('Second');
    await t.sides.hear(2);
    expect(last(t.heard)).toEqual([2, [-6, 0, -4]]);
    t.put.length = 0;
    t.sides.remove('First');
    expect(t.put).toEqual([[1, undefined]]);
    expect([t.sides.name, last(t.heard)]).toEqual(['B Second', [2, [-2, 0, 0]]]);
    // What comes next takes the free place, and stands behind it.
    await t.snapshot('Third');
    expect([t.sides.all.map((s) => s.name), last(t.put)?.[0]]).toEqual([['Now', 'Second', 'Third'], 1]);
    await t.sides.hear(2);
    expect([t.sides.name, t.sides.at, last(t.heard)?.[0]]).toEqual(['C Third', 2, 1]);
    await t.sides.hear(1);
    t.sides.remove('Second');
    expect([t.sides.name, last(t.heard)?.[0]]).toEqual(['A Now', 0]);
    t.sides.remove('Third');
    expect([t.sides.name, last(t.heard)]).toEqual(['Now', [0, [0, 0, 0]]]);
  });

  test('end with now as loud as it is', async () => {
    const t = holding({ Now: -10, without: -20 });
    await t.sides.next();
    expect(t.player.heard).toBe(1);
    t.sides.end();
    expect([t.sides.others, last(t.heard)]).toEqual([[], [0, [0, 0, 0]]]);
  });

  test('a snapshot that cannot be fetched is said', async () => {
    const t = holding();
    vi.spyOn(api, 'snapshot').mockRejectedValue(new Error('The snapshot is not there.'));
    await t.snapshot('Gone');
    expect([t.sides.problem, t.sides.others]).toEqual(['The snapshot is not there.', []]);
  });
});

describe('a reference', () => {
  async function brought() {
    const t = holding({ Now: -14, [asset(1).id]: -9 });
    vi.spyOn(api, 'bringIn').mockResolvedValue({ kind: 'recording', name: 'Pier', asset: asset(1) } as never);
    await t.sides.bringReference(new File([], 'pier.wav'));
    await t.sides.measure();
    return t;
  }

  test('is brought in past everything, and held against now', async () => {
    const t = await brought();
    const [reference] = t.session.doc.references;
    expect(reference).toMatchObject({ name: 'Pier', follows: false, from_frame: 0, to_frame: 96_000 });
    expect(t.session.doc.voices).toHaveLength(2);
    expect(last(t.put)).toMatchObject([
      1,
      { kind: 'recording', way: { follows: false, from: 0, to: 96_000 } },
    ]);
    expect(t.sides.offsets).toEqual([0, -5]);
  });

  test('that is played otherwise is put there anew and measured again', async () => {
    const t = await brought();
    const [reference] = t.session.doc.references;
    if (!reference) throw new Error('no reference');
    t.sides.follow();
    const before = t.put.length;
    t.session.apply({ kind: 'set_reference', reference: { ...reference, follows: true, start_bar: 2 } });
    t.sides.follow();
    await t.sides.measure();
    expect(t.asked.filter((doing) => doing === 'Measuring Now')).toHaveLength(1);
    expect(t.put.length).toBe(before + 1);
    expect(last(t.put)).toMatchObject([1, { way: { follows: true, start: 192_000 } }]);
    expect(last(t.asked)).toBe('Measuring Pier');
    t.session.apply({ kind: 'set_reference', reference: { ...reference, name: 'Quay' } });
    t.sides.follow();
    expect(t.sides.others[0]?.name).toBe('Quay');
    t.session.apply({ kind: 'remove_reference', reference: reference.id });
    t.sides.follow();
    expect(t.sides.others).toEqual([]);
  });

  test('of notes is refused with what would do', async () => {
    const t = holding();
    vi.spyOn(api, 'bringIn').mockResolvedValue({ kind: 'midi' } as never);
    await t.sides.bringReference(new File([], 'song.mid'));
    expect(t.sides.problem).toMatch(/song.mid holds notes; a reference is a recording/);
  });
});

describe('a render', () => {
  const render = (kinds: string[]) =>
    ({
      id: 'r1',
      version: 3,
      report: { stems: kinds.map((kind) => ({ kind })), from: 96_000, frames: 4 },
    }) as unknown as RenderLine;

  test('is main as its file says, where it stands in the song', async () => {
    const t = holding({ 'render r1': -16 });
    class Offline {
      decodeAudioData = () =>
        Promise.resolve({
          length: 4,
          numberOfChannels: 2,
          getChannelData: (n: number) => new Float32Array(4).fill(n + 1),
        });
    }
    vi.stubGlobal('OfflineAudioContext', Offline);
    const file = vi.spyOn(api, 'renderFile').mockResolvedValue(new ArrayBuffer(0));
    await t.sides.addRender(render(['channel', 'main']));
    expect(t.sides.problem).toBe('');
    expect(file).toHaveBeenCalledWith('r1', 1);
    const [at, sound] = last(t.put) ?? [];
    expect(at).toBe(1);
    if (sound?.kind !== 'recording') throw new Error('no recording');
    expect(sound.way).toEqual({ follows: true, start: 96_000, from: 0, to: 4 });
    expect([...new Float32Array(await sound.pcm())]).toEqual([1, 2, 1, 2, 1, 2, 1, 2]);
  });

  test('without main is no side', async () => {
    const t = holding();
    expect(Sides.mainOf(render(['channel']))).toBeUndefined();
    await t.sides.addRender(render(['channel']));
    expect(t.sides.others).toEqual([]);
  });
});

describe('without names', () => {
  async function blind(kind: 'preference' | 'recognition', seed = 5) {
    const t = holding();
    await t.snapshot('Then');
    const rounds = new Blind(t.sides, t.desk, () => seed);
    await rounds.start(kind);
    return { ...t, rounds };
  }

  test('what is preferred is counted, and told only then', async () => {
    const { rounds, sides } = await blind('preference');
    expect([sides.hidden, rounds.nameAt(0)]).toEqual([true, undefined]);
    const order = rounds.round?.order ?? [];
    rounds.hear(1);
    await vi.waitFor(() => expect(sides.at).toBe(order[1]));
    rounds.choose(1);
    const name = sides.all[order[1] ?? 0]?.name;
    expect(rounds.nameAt(1)).toBe(name);
    expect(Object.values(rounds.preferred)).toEqual([1]);
    rounds.choose(0);
    expect(rounds.rounds).toBe(1);
    rounds.again();
    expect([rounds.round?.number, rounds.nameAt(0)]).toEqual([1, undefined]);
    rounds.end();
    await vi.waitFor(() => expect([sides.hidden, sides.at, rounds.round]).toEqual([false, 0, undefined]));
  });

  test('the unknown one is one of both, and being right is held against chance', async () => {
    const { rounds, sides } = await blind('recognition');
    for (let n = 0; n < 5; n += 1) {
      const unknown = rounds.round?.unknown ?? 0;
      rounds.hear('x');
      await vi.waitFor(() => expect(sides.at).toBe(unknown));
      rounds.hear(0);
      await vi.waitFor(() => expect(sides.at).toBe(0));
      rounds.choose(unknown);
      rounds.again();
    }
    expect([rounds.right, rounds.rounds]).toEqual([5, 5]);
    expect(rounds.chance).toBeCloseTo(1 / 32, 9);
    rounds.choose(1 - (rounds.round?.unknown ?? 0));
    expect([rounds.right, rounds.rounds]).toEqual([5, 6]);
    expect(rounds.chance).toBeCloseTo(7 / 64, 9);
  });

  test('nothing begins where nothing is held against now, or the sides cannot be measured', async () => {
    const t = holding();
    const rounds = new Blind(t.sides, t.desk, () => 1);
    await rounds.start('preference');
    expect(t.sides.hidden).toBe(false);
    t.gauge.ask = () => Promise.resolve(undefined);
    t.sides.without();
    await rounds.start('preference');
    expect([t.sides.hidden, rounds.round]).toEqual([false, undefined]);
  });
});

describe('mute and solo of now', () => {
  const solo = (t: ReturnType<typeof holding>, to: boolean) =>
    t.session.apply({
      kind: 'set_strips',
      strips: [t.session.doc.voices[0]?.channel ?? 0],
      change: { what: 'solo', to },
    });
  const soloed = (sound: SideSound | undefined) =>
    sound?.kind === 'session' && typeof sound.what === 'object'
      ? sound.what.document.strips.filter((s) => s.solo).length
      : undefined;

  test('go along to a snapshot, which is measured again, and are left with them', async () => {
    const t = holding();
    vi.spyOn(api, 'snapshot').mockResolvedValue(t.session.doc);
    t.sides.follow();
    await t.sides.addSnapshot({ id: 'a', name: 'Then' });
    await t.sides.measure();
    expect(soloed(t.put.at(-1)?.[1])).toBe(0);
    const [side] = t.sides.others;
    solo(t, true);
    expect(side && [t.sides.isFresh(side), t.sides.isPlain(side)]).toEqual([false, false]);
    t.sides.follow();
    expect(soloed(t.put.at(-1)?.[1])).toBe(1);
    await t.sides.measure();
    expect(t.sides.stale).toBe(false);
    solo(t, false);
    t.sides.follow();
    expect(soloed(t.put.at(-1)?.[1])).toBe(0);
    expect(side && t.sides.isPlain(side)).toBe(true);
  });

  test('are not those of renders and references, which say that they are the whole mix', async () => {
    const t = holding();
    t.sides.without();
    const render = { key: 'r', name: 'Render 1', what: { kind: 'reference', id: 1 } } as const;
    expect(t.sides.isWhole(render)).toBe(false);
    solo(t, true);
    expect([t.sides.isWhole(render), t.sides.isWhole(t.sides.others[0] ?? render)]).toEqual([true, false]);
  });
});

describe('after the page was opened anew', () => {
  const store = new Map<string, string>();
  beforeEach(() => {
    store.clear();
    vi.stubGlobal('localStorage', {
      getItem: (key: string) => store.get(key) ?? null,
      setItem: (key: string, value: string) => store.set(key, value),
      removeItem: (key: string) => store.delete(key),
    });
  });

  test('sides stand as they stood, and are measured once one is heard', async () => {
    const before = holding();
    vi.spyOn(api, 'snapshot').mockResolvedValue(before.session.doc);
    before.sides.without();
    await before.sides.addSnapshot({ id: 'a', name: 'Then' });
    const t = holding();
    await t.sides.restore();
    expect(t.sides.others.map((s) => s.name)).toEqual(['Without processors', 'Then']);
    expect(t.asked).toEqual([]);
    await t.sides.hear(1);
    expect(t.asked).toHaveLength(3);
    t.sides.end();
    const after = holding();
    await after.sides.restore();
    expect(after.sides.others).toEqual([]);
  });

  test('answers without names go on, until they are ended', async () => {
    const begin = async () => {
      const t = holding();
      t.sides.without();
      const blind = new Blind(t.sides, t.session.desk, () => 7);
      await blind.start('recognition');
      return blind;
    };
    const first = await begin();
    first.choose(first.round?.unknown ?? 0);
    const second = await begin();
    expect([second.rounds, second.right, second.round?.number]).toEqual([1, 1, 1]);
    second.end();
    expect((await begin()).rounds).toBe(0);
  });
});
