import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { Edit, Session } from '$lib/api/types';
import type { GaugeAnswer, GaugeRun } from './messages';
import { coreModule, newVoice, onDesk } from './on-desk';

/** The worker itself on the real core; what it fetches is what the test has. */
let said: GaugeAnswer[];
let served: Map<string, ArrayBuffer | number>;
let fetched: string[];
vi.stubGlobal('postMessage', (message: GaugeAnswer) => void said.push(message));
vi.stubGlobal('onmessage', null);

const RATE = 48_000;
let next = 0;
/** Audio that no run has had yet, since the worker keeps what it had. */
function newAsset(name: string, frames = RATE, level = 0.25) {
  next += 1;
  const id = next.toString(16).padStart(64, '0');
  const pcm = Float32Array.from(
    { length: frames },
    (_, n) => level * Math.sin((2 * Math.PI * 997 * n) / RATE),
  );
  served.set(`/api/assets/${id}`, pcm.buffer);
  return { id, name, channels: 1, sample_rate: RATE, frames };
}
function playing(asset = newAsset('Hum.wav')): Session {
  const source = { kind: 'recording', asset: asset.id, start_frame: 0 } as const;
  return onDesk({
    kind: 'add_voices',
    voices: [{ ...newVoice('Hum'), source }],
    assets: [asset],
  }).document();
}

beforeEach(async () => {
  [said, served, fetched] = [[], new Map(), []];
  vi.stubGlobal('fetch', (path: string) => {
    fetched.push(path);
    const there = served.get(path) ?? 404;
    if (there === 0) return Promise.reject(new TypeError('cut'));
    if (typeof there === 'number') return Promise.resolve(new Response(null, { status: there }));
    return Promise.resolve(new Response(there.slice(0)));
  });
  await import('./gauge-worker');
});

/** The answer at the end of a run. */
async function run(what: Partial<GaugeRun> & { session: Session }): Promise<GaugeAnswer> {
  said = [];
  const whole: GaugeRun = { module: coreModule(), edits: [], without: false, from: 0, to: RATE, ...what };
  const hears = globalThis.onmessage as unknown as (event: { data: GaugeRun }) => void;
  hears({ data: whole });
  await vi.waitFor(() => expect(said.some((m) => m.kind !== 'progress')).toBe(true), { timeout: 20_000 });
  return said.at(-1) as GaugeAnswer;
}
const lufs = (answer: GaugeAnswer) => (answer.kind === 'heard' ? answer.heard.lufs : undefined);
const error = (answer: GaugeAnswer) => (answer.kind === 'failed' ? answer.error : undefined);

describe('a measuring run', () => {
  test('says how far it is, up to its end, and finds levels', async () => {
    const answer = await run({ session: playing() });
    const parts = said.flatMap((m) => (m.kind === 'progress' ? [m.part] : []));
    expect(parts.at(-1)).toBe(1);
    expect(parts).toEqual(parts.toSorted((a, b) => a - b));
    if (answer.kind !== 'found') throw new Error(error(answer));
    expect(answer.found.measured).toBeDefined();
  });

  test('fetches what it plays once, and plays it as loud as it is', async () => {
    const session = playing();
    // Two channels with a power of 0.25²/2 each; weighting and offset of BS.1770 cancel at 997 Hz.
    expect(lufs(await run({ session, side: { without: false } }))).toBeCloseTo(-12.04, 1);
    expect(fetched).toHaveLength(1);
    await run({ session, side: { without: true } });
    expect(fetched).toHaveLength(1);
  });

  test('applies edits to what it measures alone', async () => {
    const session = playing();
    const strips = [session.voices[0]?.channel ?? 0];
    const softer = { kind: 'set_strips', strips, change: { what: 'fader_db', to: -20 } } as const;
    const loud = lufs(await run({ session, side: { without: false } })) ?? 0;
    const soft = lufs(await run({ session, edits: [softer], side: { without: false } })) ?? 0;
    expect(soft - loud).toBeCloseTo(-20, 1);
    expect(lufs(await run({ session, side: { without: false } }))).toBeCloseTo(loud, 6);
  });

  test('plays missing audio as silence, and does not take an outage for that', async () => {
    const gone = newAsset('Gone.wav');
    served.delete(`/api/assets/${gone.id}`);
    expect(lufs(await run({ session: playing(gone), side: { without: false } }))).toBeNull();
    const late = newAsset('Late.wav');
    served.set(`/api/assets/${late.id}`, 503);
    expect(error(await run({ session: playing(late) }))).toBe(
      'Late.wav could not be fetched. Try again in a moment.',
    );
    served.set(`/api/assets/${late.id}`, 0);
    expect(error(await run({ session: playing(late) }))).toBe(
      'The server cannot be reached. Try again in a moment.',
    );
  });

  test('refuses what the core refuses, and goes on with the next', async () => {
    const session = playing();
    const broken: Edit = { kind: 'set_strips', strips: [999], change: { what: 'fader_db', to: 0 } };
    expect(error(await run({ session, edits: [broken] }))).toBeTruthy();
    expect((await run({ session })).kind).toBe('found');
  });

  test('finds where a recording hits', async () => {
    const asset = newAsset('Loop.wav', 2 * RATE, 0);
    const pcm = new Float32Array(2 * RATE);
    const hits = [0, 24_000, 60_000];
    for (const hit of hits)
      for (let n = 0; n < 4000; n += 1) pcm[hit + n] = Math.sin(n * n) * Math.exp(-n / 700);
    served.set(`/api/assets/${asset.id}`, pcm.buffer);
    const session = playing(asset);
    const answer = await run({ session, recorded: session.voices[0]?.id ?? 0, to: 2 * RATE });
    if (answer.kind !== 'recorded') throw new Error(error(answer));
    expect(answer.hits.flatMap((h) => h.hits)).toHaveLength(hits.length);
  });
});

describe('a recording as a side', () => {
  const way = { follows: false, start: 0, from: 0, to: RATE };

  test('is fetched, heard past everything, and let go of', async () => {
    const session = playing();
    const { id } = newAsset('Pier.wav', RATE, 0.5);
    const recording = { asset: id, channels: 1, ...way };
    expect(lufs(await run({ session, side: { recording } }))).toBeCloseTo(-6.02, 1);
    await run({ session, side: { recording } });
    expect(fetched.filter((path) => path.endsWith(id))).toHaveLength(2);
  });

  test('is heard as given, without a word to the server', async () => {
    const pcm = new Float32Array(2 * RATE).fill(0);
    const recording = { asset: 'render 1', channels: 2, pcm: pcm.buffer, ...way };
    expect(lufs(await run({ session: playing(), side: { recording } }))).toBeNull();
    expect(fetched).toEqual([]);
  });

  test('whose audio is gone says what to do', async () => {
    const recording = { asset: 'f'.repeat(64), channels: 1, ...way };
    expect(error(await run({ session: playing(), side: { recording } }))).toBe(
      'The audio of the reference is gone. Bring it in again.',
    );
  });
});
