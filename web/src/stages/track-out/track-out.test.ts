import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { api } from '$lib/api/client';
import type { RenderLine } from '$lib/api/types';
import { addLanes, newVoice, onDesk, sessionOn } from '$testing/on-desk';
import type { SessionState } from '$lib/state/session.svelte';
import { TrackOut } from './track-out.svelte';

const line = (status: RenderLine['status'], id = 'r1') => ({ id, status, version: 1 }) as RenderLine;

/** A server that answers with what the test put last. */
let renders: (RenderLine[] | Error)[];
let asked: string[];
const answer = () => {
  asked.push('renders');
  const next = renders.length > 1 ? renders.shift() : renders[0];
  return next instanceof Error ? Promise.reject(next) : Promise.resolve(next ?? []);
};

beforeEach(() => {
  vi.useFakeTimers();
  [renders, asked] = [[[]], []];
  vi.spyOn(api, 'renders').mockImplementation(answer);
  vi.spyOn(api, 'startRender').mockImplementation(() => {
    asked.push('start');
    return Promise.resolve({ id: 'r1', remarks: [] });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

function tracked(...names: string[]) {
  const session = Object.assign(sessionOn(onDesk(addLanes(...names.map((name) => newVoice(name))))), {
    rendersStarted: 2,
    settled: () => {
      asked.push('settled');
      return Promise.resolve();
    },
  });
  const kept = (name: string) => {
    asked.push(`kept ${name}`);
    return Promise.resolve();
  };
  return { session, out: new TrackOut(session as unknown as SessionState, kept) };
}

describe('tracking out', () => {
  test('begins once the state is kept and everything is with the server, and is followed to its end', async () => {
    const { out, session } = tracked('Kick');
    renders = [[line('queued')], [line('running')], [line('done')]];
    await out.start();
    expect(asked).toEqual(['kept Before render 3', 'settled', 'start', 'renders']);
    expect([out.running, session.rendersStarted]).toEqual([true, 3]);
    await vi.advanceTimersByTimeAsync(300);
    expect([out.latest?.status, out.running, out.lastDone]).toEqual(['running', true, undefined]);
    await vi.advanceTimersByTimeAsync(300);
    expect([out.running, out.lastDone?.id]).toEqual([false, 'r1']);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked.filter((what) => what === 'renders')).toHaveLength(3);
  });

  test('that cannot begin says why and starts nothing', async () => {
    const { out, session } = tracked('Kick');
    vi.spyOn(api, 'startRender').mockRejectedValue(new Error('Nothing is left to be tracked out.'));
    await out.start();
    expect([out.problem, session.rendersStarted, out.renders]).toEqual([
      'Nothing is left to be tracked out.',
      2,
      [],
    ]);
  });

  test('asks again, ever later, while the server is away, and goes on then', async () => {
    const { out } = tracked('Kick');
    const away = new Error('The server cannot be reached.');
    renders = [away, away, away, [line('done')]];
    await out.refresh();
    expect(out.problem).toBe('The server cannot be reached.');
    await vi.advanceTimersByTimeAsync(120_000);
    expect([out.latest?.status, asked.length]).toEqual(['done', 4]);
  });

  test('is stopped, and what stands then is what the server says', async () => {
    const { out } = tracked('Kick');
    const cancel = vi.spyOn(api, 'cancelRender').mockResolvedValue(undefined);
    renders = [[line('running')], [line('cancelled')]];
    await out.refresh();
    await out.cancel();
    expect(cancel).toHaveBeenCalledWith('r1');
    expect([out.latest?.status, out.running]).toEqual(['cancelled', false]);
  });

  test('a removal that failed says why and leaves the list true', async () => {
    const { out } = tracked('Kick');
    renders = [[line('done')]];
    vi.spyOn(api, 'removeRender').mockRejectedValue(new Error('Somebody else removed it.'));
    await out.remove('r1');
    expect([out.problem, out.renders.length]).toEqual(['Somebody else removed it.', 1]);
  });

  test('nothing is asked any more once it is closed', async () => {
    const { out } = tracked('Kick');
    renders = [[line('running')]];
    await out.refresh();
    out.close();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked).toEqual(['renders']);
  });
});

describe('what would be tracked out', () => {
  const files = (out: TrackOut) => ('error' in out.preview ? out.preview.error : out.preview.stems.length);

  test('follows the session, with the number that the next render has', () => {
    const { out, session } = tracked('Kick', 'Snare');
    const before = files(out);
    session.apply(addLanes(newVoice('Rim')));
    expect(files(new TrackOut(session as unknown as SessionState, () => Promise.resolve()))).toBe(
      Number(before) + 1,
    );
    out.setPlan({ label: '{voice} {version}' });
    expect(JSON.stringify(out.preview)).toContain('Kick-v3.wav');
  });

  test('a plan is changed in what is said alone', () => {
    const { out, session } = tracked('Kick');
    const before = session.doc.stem_plan;
    out.setPlan({ tail: !before.tail });
    expect(session.doc.stem_plan).toEqual({ ...before, tail: !before.tail });
  });
});
