import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { FromWorklet, ToWorklet } from './messages';
import { addLanes, coreModule, newVoice, onDesk } from '$testing/on-desk';
import { Player } from './player.svelte';

/** A browser's sound, whose worklet arrives when the test says so. */
let arrive: () => void;
let nodes: { sent: ToWorklet[]; hear(message: FromWorklet): void; fail(): void }[];
let resumed: number;

class Context {
  destination = {};
  audioWorklet = { addModule: () => new Promise<void>((resolve) => (arrive = resolve)) };
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
  [nodes, resumed] = [[], 0];
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
