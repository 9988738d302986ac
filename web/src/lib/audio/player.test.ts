import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { FromWorklet, ToWorklet } from './messages';
import { addLanes, coreModule, newVoice, onDesk } from '$testing/on-desk';
import { plainLayer } from '$stages/bring-in/incoming/placing';
import { Player } from './player.svelte';

/** A browser's sound, whose worklet arrives when the test says so. */
let arrive: () => void;
let refuse: (cause: Error) => void;
let loaded: string[];
let nodes: { sent: ToWorklet[]; hear(message: FromWorklet): void; fail(): void }[];
let resumed: number;
/** What the output says its time is. */
let outputTime: { contextTime: number; performanceTime: number };

class Context {
  destination = {};
  state = 'running';
  getOutputTimestamp = () => outputTime;
  audioWorklet = {
    addModule: (address: string) => {
      loaded.push(address);
      return new Promise<void>((resolve, reject) => ([arrive, refuse] = [resolve, reject]));
    },
  };
  resume(): Promise<void> {
    resumed += 1;
    return Promise.resolve();
  }
  close(): Promise<void> {
    return Promise.resolve();
  }
}
class Node {
  sent: ToWorklet[] = [];
  port: { postMessage(message: ToWorklet): void; onmessage?: (event: { data: FromWorklet }) => void };
  onprocessorerror?: () => void;
  constructor() {
    this.port = { postMessage: (message) => void this.sent.push(message) };
    nodes.push(this);
  }
  hear(message: FromWorklet): void {
    this.port.onmessage?.({ data: message });
  }
  fail(): void {
    this.onprocessorerror?.();
  }
  connect(): void {}
  disconnect(): void {}
}

beforeEach(() => {
  [nodes, resumed, loaded] = [[], 0, []];
  vi.useFakeTimers();
  vi.stubGlobal('matchMedia', () => ({ matches: false, addEventListener: () => undefined }));
  vi.stubGlobal('requestAnimationFrame', () => 0);
  vi.stubGlobal('addEventListener', () => undefined);
  vi.stubGlobal('AudioContext', Context);
  vi.stubGlobal('AudioWorkletNode', Node);
});
afterEach(() => vi.useRealTimers());

async function opened() {
  const desk = onDesk(addLanes(newVoice('Kick')));
  const player = new Player(coreModule(), desk);
  const opening = player.open(desk.document());
  const stand = async () => {
    arrive();
    await opening;
    return nodes[0] as (typeof nodes)[number];
  };
  return { player, stand };
}
const kinds = (sent: ToWorklet[]) => sent.map((m) => m.kind);
const meters = (position: number): FromWorklet => ({
  kind: 'meters',
  values: new Float32Array(0),
  lufs: -20,
  truePeak: 0,
  position,
  playing: true,
  fault: 0,
});

describe('sound that comes late', () => {
  test('again and again is said until it does not any more, and has others give way each time', async () => {
    const { player, stand } = await opened();
    await stand();
    const breaks = vi.fn();
    player.onbreak = breaks;
    [outputTime] = [{ contextTime: 1, performanceTime: performance.now() }];
    player.play();
    const pass = (ms: number, behind = 0) => {
      outputTime = {
        contextTime: outputTime.contextTime + (ms - behind) / 1000,
        performanceTime: outputTime.performanceTime + ms,
      };
      vi.advanceTimersByTime(ms);
    };
    pass(250);
    for (let n = 0; n < 3; n += 1) {
      expect(player.strained).toBe(false);
      pass(250, 30);
    }
    expect([player.strained, breaks.mock.calls.length]).toEqual([true, 3]);
    for (let n = 0; n < 41; n += 1) pass(250);
    expect([player.strained, breaks.mock.calls.length]).toEqual([false, 3]);
    player.stop();
    pass(250, 200);
    expect(breaks.mock.calls.length).toBe(3);
  });
});

describe('the sound engine', () => {
  test('does what was asked before it stood, in order, and a click lets it sound', async () => {
    const { player, stand } = await opened();
    player.loop(10, 20);
    player.play();
    player.seek(15);
    const { sent } = await stand();
    expect(kinds(sent).filter((kind) => kind !== 'words')).toEqual(['loop', 'play', 'seek']);
    expect(resumed).toBe(1);
  });

  test('says where the song is while it plays, and stays where it was put while it does not', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    player.seek(480);
    node.hear(meters(100));
    expect(player.position).toBe(480);
    player.play();
    node.hear(meters(960));
    expect(player.position).toBe(960);
  });

  test('that ends is told of', async () => {
    const { player, stand } = await opened();
    (await stand()).fail();
    expect(player.problem).toMatch(/Reload the page/);
  });

  test('that began anew gets loop, place and play again', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    player.loop(10, 20);
    player.seek(12);
    player.play();
    node.sent.length = 0;
    node.hear({ kind: 'restarted' } as FromWorklet);
    await vi.waitFor(() => expect(kinds(node.sent)).toContain('play'));
    expect(kinds(node.sent).filter((kind) => kind !== 'words')).toEqual(['loop', 'seek', 'play']);
  });
});

describe('sides', () => {
  const way = { follows: false, start: 0, from: 0, to: 4 };
  const reference = (id: string) => ({
    kind: 'recording' as const,
    id,
    name: 'Pier',
    channels: 1,
    pcm: () => Promise.resolve(new Float32Array(4).buffer),
    way,
  });

  test('that are states of the session get their words, and those alone that changed', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    node.sent.length = 0;
    player.put(1, { kind: 'session', what: 'without' });
    await vi.waitFor(() => expect(node.sent).toMatchObject([{ kind: 'words', side: 1, begin: true }]));
    const standing = player.standing(1);
    node.hear({ kind: 'followed', side: 1, messages: 1 });
    expect(await standing).toBe(true);
    expect(await player.standing(0)).toBe(true);
    player.put(1, { kind: 'session', what: 'without' });
    const gone = player.standing(1);
    player.put(1, undefined);
    expect(await gone).toBe(false);
    expect(node.sent.at(-1)).toEqual({ kind: 'nothing', side: 1 });
  });

  test('that are recordings get their audio once, and let go of it with the last of them', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    node.sent.length = 0;
    player.put(1, reference('pier'));
    player.put(2, reference('pier'));
    await vi.waitFor(() => expect(kinds(node.sent)).toContain('audio'));
    expect(kinds(node.sent)).toEqual(['recording', 'recording', 'audio']);
    node.hear({ kind: 'stands', side: 2 });
    expect(player.stands).toEqual([true, false, true]);
    player.put(2, undefined);
    expect(kinds(node.sent).slice(3)).toEqual(['nothing']);
    player.put(1, undefined);
    expect(kinds(node.sent).slice(4)).toEqual(['unshelve', 'nothing']);
  });

  test('whose audio cannot be had are told by name', async () => {
    const { player, stand } = await opened();
    await stand();
    player.put(1, {
      ...reference('gone'),
      pcm: () => Promise.reject(new Error('The server cannot be reached.')),
    });
    await vi.waitFor(() => expect(player.problem).toMatch(/^Pier could not be fetched/));
  });

  test('are put there again in an engine that began anew, and what is heard with them', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    player.put(1, reference('pier'));
    player.hear(1, [-3, 0, 0]);
    await vi.waitFor(() => expect(kinds(node.sent)).toContain('audio'));
    node.sent.length = 0;
    node.hear({ kind: 'restarted' });
    await vi.waitFor(() => expect(kinds(node.sent)).toContain('audio'));
    expect(kinds(node.sent).indexOf('recording')).toBeGreaterThan(kinds(node.sent).indexOf('words'));
    expect(player.heard).toBe(0);
    node.hear({ kind: 'stands', side: 1 });
    await vi.waitFor(() => expect(node.sent).toContainEqual({ kind: 'hear', side: 1, levels: [-3, 0, 0] }));
    expect(player.heard).toBe(1);
  });

  test('give way to what is listened to alone, or passed by', async () => {
    const { player, stand } = await opened();
    await stand();
    player.put(1, reference('pier'));
    player.hear(1, [-3, 0, 0]);
    player.listen(6, 7);
    expect(player.heard).toBe(0);
    player.hear(1, [-3, 0, 0]);
    player.passBy({ processors: [[7, 0]], main_db: 0 });
    expect(player.heard).toBe(0);
  });
});

describe('without a sound device', () => {
  test('the page says that the browser takes no sound, until there is some', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    player.play();
    await vi.advanceTimersByTimeAsync(3000);
    expect(player.problem).toBe('');
    await vi.advanceTimersByTimeAsync(2000);
    expect(player.problem).toMatch(/takes no sound/);
    node.hear(meters(0));
    expect(player.problem).toBe('');
  });

  test('nothing is said where it sounds, was stopped, or the engine is still on its way', async () => {
    const { player, stand } = await opened();
    player.play();
    await vi.advanceTimersByTimeAsync(5000);
    expect(player.problem).toBe('');
    const node = await stand();
    player.play();
    node.hear(meters(0));
    await vi.advanceTimersByTimeAsync(5000);
    expect(player.problem).toBe('');
    player.play();
    player.stop();
    await vi.advanceTimersByTimeAsync(5000);
    expect(player.problem).toBe('');
  });

  test('another sentence is not taken away by sound', async () => {
    const { player, stand } = await opened();
    const node = await stand();
    player.problem = 'Something else.';
    player.play();
    node.hear(meters(0));
    expect(player.problem).toBe('Something else.');
  });
});

test('an engine that cannot be loaded is loaded again by itself, and said until it is there', async () => {
  const { player, stand } = await opened();
  for (const pause of [250, 500]) {
    refuse(new Error('cut'));
    await vi.advanceTimersByTimeAsync(0);
    expect(player.problem).toBe('The sound engine is not loaded yet. Trying again …');
    await vi.advanceTimersByTimeAsync(pause);
  }
  await stand();
  expect([player.problem, new Set(loaded).size]).toEqual(['', 3]);
  expect(nodes).toHaveLength(1);
});

test('a page that is left while its engine is on its way throws nothing and loads no more', async () => {
  const { player } = await opened();
  await player.close();
  refuse(new Error('left'));
  await vi.advanceTimersByTimeAsync(60_000);
  expect([loaded.length, nodes.length]).toEqual([1, 0]);
});

describe('audio that cannot be had', () => {
  const id = 'ab'.repeat(32);
  const voiced = () =>
    onDesk({
      kind: 'add_voices',
      voices: [
        {
          ...newVoice('Kick'),
          source: { kind: 'one_shot', layers: [plainLayer(id)], hold: { kind: 'whole' } },
        },
      ],
      assets: [{ id, name: 'kick.wav', channels: 1, sample_rate: 48_000, frames: 4 }],
    });
  /** Answers of the server, one after the other; the last one stays. */
  function answers(...statuses: number[]) {
    const asked: string[] = [];
    vi.stubGlobal('fetch', (path: string) => {
      asked.push(path);
      const status = statuses.length > 1 ? statuses.shift() : statuses[0];
      if (status === 0) return Promise.reject(new TypeError('cut'));
      const body =
        status === 200 ? new Float32Array(4).buffer : JSON.stringify({ detail: 'It is not there.' });
      return Promise.resolve(new Response(body, { status, headers: { 'x-zealous-lane': '1' } }));
    });
    return asked;
  }
  async function openedOn(desk: ReturnType<typeof voiced>) {
    const player = new Player(coreModule(), desk);
    const opening = player.open(desk.document());
    arrive();
    await opening;
    await vi.advanceTimersByTimeAsync(0);
    return player;
  }

  test.each([0, 503, 500, 429])(
    'is asked for again by itself, and said until it is there: %s',
    async (status) => {
      const asked = answers(status, status, 200);
      const player = await openedOn(voiced());
      expect([player.late, player.missing]).toEqual([[id], []]);
      expect(player.problem).toBe('Not loaded yet: kick.wav. Trying again …');
      await vi.advanceTimersByTimeAsync(10_000);
      expect(asked).toHaveLength(3);
      expect([player.late, player.missing, player.problem, player.waiting]).toEqual([[], [], '', 0]);
      expect(kinds(nodes[0]?.sent ?? [])).toContain('audio');
    },
  );

  test('is missing where the server says so, and not asked for again', async () => {
    const asked = answers(404);
    const player = await openedOn(voiced());
    await vi.advanceTimersByTimeAsync(60_000);
    expect([player.late, player.missing, asked.length]).toEqual([[], [id], 1]);
    expect(player.problem).toBe('kick.wav could not be fetched: It is not there.');
  });

  test('is not waited for once nobody plays it, nor by a page that is closed', async () => {
    const asked = answers(0);
    const desk = voiced();
    const player = await openedOn(desk);
    desk.apply({ kind: 'remove_voices', voices: desk.document().voices.map((v) => v.id) });
    await vi.advanceTimersByTimeAsync(60_000);
    expect([asked.length, player.late, player.problem]).toEqual([1, [], '']);
    const other = await openedOn(voiced());
    await other.close();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toHaveLength(2);
  });
});
