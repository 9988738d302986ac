import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { followRevisions, SILENT_MS } from './following';

const CLOSED = 2;
class Stream extends EventTarget {
  readonly CLOSED = CLOSED;
  readyState = 1;
  close(): void {
    this.readyState = this.CLOSED;
  }
  tell(revision: number): void {
    this.dispatchEvent(new MessageEvent('revision', { data: String(revision) }));
  }
  refuse(): void {
    this.close();
    this.dispatchEvent(new Event('error'));
  }
}

let streams: Stream[] = [];
let heard: number[] = [];
let network = new EventTarget();
let end = () => {};
const last = () => streams.at(-1)!;

beforeEach(() => {
  vi.useFakeTimers();
  network = new EventTarget();
  [streams, heard] = [[], []];
  end = followRevisions(
    () => {
      streams.push(new Stream());
      return last() as unknown as EventSource;
    },
    (revision) => heard.push(revision),
    network,
  );
});
afterEach(() => {
  end();
  vi.useRealTimers();
});

test('a stream that speaks is kept for days', () => {
  for (let hour = 0; hour < 24 * 3; hour++)
    for (let beat = 0; beat < 180; beat++) {
      vi.advanceTimersByTime(20_000);
      last().tell(hour);
    }
  expect(streams).toHaveLength(1);
  expect(heard.at(-1)).toBe(71);
});

test('one that fell silent, as after sleep, is asked anew and let go of', () => {
  last().tell(4);
  vi.advanceTimersByTime(SILENT_MS + 5000);
  expect(streams.map((s) => s.readyState)).toEqual([CLOSED, 1]);
  last().tell(9);
  expect(heard).toEqual([4, 9]);
});

test('a clock of the computer that jumps changes nothing', () => {
  vi.setSystemTime(Date.now() + 86_400_000);
  vi.advanceTimersByTime(20_000);
  last().tell(1);
  vi.setSystemTime(0);
  vi.advanceTimersByTime(20_000);
  expect(streams).toHaveLength(1);
});

test('one that is refused is asked again, later each time', () => {
  last().refuse();
  vi.advanceTimersByTime(250);
  expect(streams).toHaveLength(2);
  last().refuse();
  vi.advanceTimersByTime(250);
  expect(streams).toHaveLength(2);
  vi.advanceTimersByTime(250);
  expect(streams).toHaveLength(3);
});

test('when the network is back, nobody waits', () => {
  last().refuse();
  network.dispatchEvent(new Event('online'));
  expect(streams).toHaveLength(2);
  vi.advanceTimersByTime(1000);
  expect(streams).toHaveLength(2);
});

test('once ended, nothing is asked any more', () => {
  end();
  vi.advanceTimersByTime(10 * SILENT_MS);
  network.dispatchEvent(new Event('online'));
  expect(streams.map((s) => s.readyState)).toEqual([CLOSED]);
});
