import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { Edit, Question, Session } from '$lib/api/types';
import type { FromGauge, GaugeRun, ToGauge } from './messages';
import { coreModule, newVoice, onDesk } from '$testing/on-desk';

/** The worker itself on the real core; what it fetches is what the test has. */
let said: FromGauge[];
let served: Map<string, ArrayBuffer | number>;
let fetched: string[];
/** Called with what the worker says, as soon as it says it. */
let heard: (message: FromGauge) => void = () => undefined;
vi.stubGlobal('postMessage', (message: FromGauge) => {
  said.push(message);
  heard(message);
});
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
    return Promise.resolve(new Response(there.slice(0), { headers: { 'x-zealous-lane': '1' } }));
  });
  await import('./gauge-worker');
});

let turn = 0;
const hears = (data: ToGauge) =>
  (globalThis.onmessage as unknown as (event: { data: ToGauge }) => void)({ data });
const LEVELS: Question = { about: 'levels', without: false };
const SIDE: Question = { about: 'side', without: false };
type Run = Partial<GaugeRun> & { session: Session; edits?: Edit[] };

function begin({ session, edits = [], ...what }: Run): number {
  turn += 1;
  const whole: GaugeRun = {
    ...{
      module: coreModule(),
      turn,
      heard: JSON.stringify({ session, edits }),
      question: LEVELS,
      from: 0,
      to: RATE,
    },
    ...what,
  };
  hears({ kind: 'ask', ...whole });
  return turn;
}
/** What is said at the end of a run. */
async function run(what: Run): Promise<FromGauge> {
  said = [];
  const mine = begin(what);
  const ended = () => said.find((m) => m.turn === mine && m.kind !== 'progress');
  await vi.waitFor(() => expect(ended()).toBeDefined(), { timeout: 20_000 });
  return ended() as FromGauge;
}
const answer = (end: FromGauge) => (end.kind === 'answer' ? end.answer : undefined);
const lufs = (end: FromGauge) => {
  const found = answer(end);
  return found?.about === 'side' || found?.about === 'side_recording' ? found.lufs : undefined;
};
const error = (end: FromGauge) => (end.kind === 'failed' ? end.error : undefined);

describe('a measuring run', () => {
  test('says how far it is, up to its end, and finds levels', async () => {
    const end = await run({ session: playing() });
    const parts = said.flatMap((m) => (m.kind === 'progress' ? [m.part] : []));
    expect(parts.at(-1)).toBe(1);
    expect(parts).toEqual(parts.toSorted((a, b) => a - b));
    const found = answer(end);
    if (found?.about !== 'levels') throw new Error(error(end));
    expect(found.measured).toBeDefined();
  });

  test('fetches what it plays once, and plays it as loud as it is', async () => {
    const session = playing();
    // Two channels with a power of 0.25²/2 each; weighting and offset of BS.1770 cancel at 997 Hz.
    expect(lufs(await run({ session, question: SIDE }))).toBeCloseTo(-12.04, 1);
    expect(fetched).toHaveLength(1);
    await run({ session, question: { about: 'side', without: true } });
    expect(fetched).toHaveLength(1);
  });

  test('applies edits to what it measures alone', async () => {
    const session = playing();
    const strips = [session.voices[0]?.channel ?? 0];
    const softer = { kind: 'set_strips', strips, change: { what: 'fader_db', to: -20 } } as const;
    const loud = lufs(await run({ session, question: SIDE })) ?? 0;
    const soft = lufs(await run({ session, edits: [softer], question: SIDE })) ?? 0;
    expect(soft - loud).toBeCloseTo(-20, 1);
    expect(lufs(await run({ session, question: SIDE }))).toBeCloseTo(loud, 6);
  });

  test('plays missing audio as silence, and does not take an outage for that', async () => {
    const gone = newAsset('Gone.wav');
    served.delete(`/api/assets/${gone.id}`);
    expect(lufs(await run({ session: playing(gone), question: SIDE }))).toBeNull();
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

  test('rests between two pieces where sound broke beside it, and can be called off meanwhile', async () => {
    const session = playing();
    const first = performance.now();
    let rested: number | undefined;
    heard = (message) => {
      if (message.kind !== 'progress' || message.part === 0 || message.part === 1 || rested) return;
      rested = performance.now();
      hears({ kind: 'rest', ms: 300 });
    };
    const long = { session, from: 0, to: 12 * RATE };
    expect((await run(long)).kind).toBe('answer');
    expect(performance.now() - (rested ?? first)).toBeGreaterThanOrEqual(300);
    rested = undefined;
    heard = (message) => {
      if (message.kind !== 'progress' || message.part === 0 || rested) return;
      rested = performance.now();
      hears({ kind: 'rest', ms: 60_000 });
      hears({ kind: 'cancel' });
    };
    expect((await run(long)).kind).toBe('ended');
    hears({ kind: 'rest', ms: 0 });
    heard = () => undefined;
  });

  test('refuses what the core refuses, and goes on with the next', async () => {
    const session = playing();
    const broken: Edit = { kind: 'set_strips', strips: [999], change: { what: 'fader_db', to: 0 } };
    expect(error(await run({ session, edits: [broken] }))).toBeTruthy();
    expect((await run({ session })).kind).toBe('answer');
  });

  test('finds where a recording hits', async () => {
    const asset = newAsset('Loop.wav', 2 * RATE, 0);
    const pcm = new Float32Array(2 * RATE);
    const hits = [0, 24_000, 60_000];
    for (const hit of hits)
      for (let n = 0; n < 4000; n += 1) pcm[hit + n] = Math.sin(n * n) * Math.exp(-n / 700);
    served.set(`/api/assets/${asset.id}`, pcm.buffer);
    const session = playing(asset);
    const voice = session.voices[0]?.id ?? 0;
    const found = answer(await run({ session, question: { about: 'recorded', voice }, to: 2 * RATE }));
    expect(found?.about === 'recorded' && found.hits.flatMap((h) => h.hits)).toHaveLength(hits.length);
    const cuts = answer(await run({ session, question: { about: 'cuts', voice, sensitivity: 0.5 } }));
    expect(cuts?.about === 'cuts' && cuts.pieces.map((p) => p.start_frame)).toHaveLength(hits.length);
    // It is here already.
    expect(fetched).toHaveLength(1);
  });

  test('fetches for a question about one lane no more than that lane plays', async () => {
    const session = playing();
    const other = playing(newAsset('Other.wav'));
    const both = { ...session, assets: [...session.assets, ...other.assets] };
    await run({ session: both, question: { about: 'tuning', kick: session.voices[0]?.id ?? 0, bass: null } });
    expect(fetched).toEqual([`/api/assets/${session.assets[0]?.id}`]);
  });

  test('that is called off ends between two pieces, and the next goes on with what is here', async () => {
    const session = playing();
    await run({ session });
    said = [];
    heard = (message) => {
      if (message.kind === 'progress' && message.part > 0) hears({ kind: 'cancel' });
    };
    const first = begin({ session, to: 10 * RATE });
    await vi.waitFor(() => expect(said.at(-1)).toEqual({ turn: first, kind: 'ended' }), { timeout: 20_000 });
    heard = () => undefined;
    const parts = said.flatMap((m) => (m.kind === 'progress' ? [m.part] : []));
    expect(parts.at(-1)).toBeLessThan(0.9);
    const dropped = begin({ session, to: 10 * RATE });
    expect((await run({ session })).kind).toBe('answer');
    expect(said.filter((m) => m.turn === dropped && m.kind === 'answer')).toEqual([]);
    expect(fetched).toHaveLength(1);
  }, 30_000);

  test('of what was heard last is answered without hearing it again', async () => {
    const session = playing();
    const asked = { path: null, lanes: [] };
    const question = { about: 'paths' as const, asked, goal: null, budget_db: null };
    await run({ session, question: { ...question, fader_db: null }, key: 'a' });
    const parts = async (key: string) => {
      await run({ session, question: { ...question, fader_db: -6 }, key, to: 20 * RATE });
      return said.filter((m) => m.kind === 'progress').length;
    };
    const again = await parts('a');
    expect(await parts('b')).toBeGreaterThanOrEqual(again);
  });
});

describe('a recording as a side', () => {
  const way = { follows: false, start: 0, from: 0, to: RATE };

  test('is fetched, heard past everything, and let go of', async () => {
    const asset = newAsset('Pier.wav', RATE, 0.5);
    const session = { ...playing() };
    session.assets = [...session.assets, asset];
    const question: Question = { about: 'side_recording', asset: asset.id, way };
    expect(lufs(await run({ session, question }))).toBeCloseTo(-6.02, 1);
    await run({ session, question });
    expect(fetched).toEqual([`/api/assets/${asset.id}`, `/api/assets/${asset.id}`]);
  });

  test('is heard as given, without a word to the server', async () => {
    const recording = { asset: 'render 1', channels: 2, pcm: new Float32Array(2 * RATE).fill(0).buffer };
    const question: Question = { about: 'side_recording', asset: recording.asset, way };
    expect(lufs(await run({ session: playing(), question, recording }))).toBeNull();
    expect(fetched).toEqual([]);
  });

  test('whose audio is gone says what to do', async () => {
    const question: Question = { about: 'side_recording', asset: 'f'.repeat(64), way };
    expect(error(await run({ session: playing(), question }))).toBe(
      'the audio of the recording is gone; bring it in again',
    );
  });
});
