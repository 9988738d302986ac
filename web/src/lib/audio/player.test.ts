import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { FromWorklet, ToWorklet } from './messages';
import { addLanes, coreModule, newVoice, onDesk } from './on-desk';
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
