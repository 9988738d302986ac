import 'fake-indexeddb/auto';
import { beforeAll, describe, expect, test } from 'vitest';
import { Storage } from './storage';
import type { Waiting } from './types';

/** Locks as browsers have them, as far as they are used here (Web Locks API). */
class Locks {
  private readonly held = new Map<string, Promise<unknown>>();

  request(name: string, ...rest: unknown[]): Promise<unknown> {
    const work = rest.at(-1) as (lock: object | null) => unknown;
    const options = (rest.length > 1 ? rest[0] : {}) as { ifAvailable?: boolean };
    const before = this.held.get(name);
    if (before && options.ifAvailable) return Promise.resolve(work(null));
    const mine = (async () => {
      await before?.catch(() => undefined);
      return work({});
    })();
    this.held.set(name, mine);
    const free = () => this.held.get(name) === mine && this.held.delete(name);
    void mine.then(free, free);
    return mine;
  }
}

beforeAll(() => {
  Object.defineProperty(globalThis, 'navigator', { value: { locks: new Locks() }, configurable: true });
});

const change = (id: string, at: number): Waiting => ({ kind: 'undo', id, label: id, at, step: 's' });

describe('what is kept', () => {
  test('of a tab that died is taken over once, the oldest first, and is the new tab’s from then on', async () => {
    const first = await Storage.open('anna', 'beat');
    const second = await Storage.open('anna', 'beat');
    await first.save([change('a', 3)]);
    await second.save([change('b', 1), change('c', 2)]);
    await first.close();
    await second.close();
    const third = await Storage.open('anna', 'beat');
    expect((await third.takeOver()).map((w) => w.id)).toEqual(['b', 'c', 'a']);
    expect(await third.takeOver()).toEqual([]);
    // It dies before it could send anything.
    await third.close();
    const fourth = await Storage.open('anna', 'beat');
    expect(await fourth.takeOver()).toHaveLength(3);
    await fourth.save([]);
    await fourth.close();
  });

  test('of a tab that lives is left to it', async () => {
    const alive = await Storage.open('anna', 'loop');
    await alive.save([change('a', 1)]);
    const other = await Storage.open('anna', 'loop');
    expect(await other.takeOver()).toEqual([]);
    const taken = new Promise<Waiting[]>(
      (resolve) => void other.watch(resolve, new AbortController().signal),
    );
    await new Promise((resolve) => setTimeout(resolve, 5));
    await alive.close();
    expect((await taken).map((w) => w.id)).toEqual(['a']);
    await other.close();
  });

  test('belongs to its account and session', async () => {
    const anna = await Storage.open('anna', 'one');
    await anna.save([change('a', 1)]);
    await anna.close();
    for (const [account, session] of [
      ['ben', 'one'],
      ['anna', 'two'],
    ] as const) {
      const other = await Storage.open(account, session);
      expect(await other.takeOver()).toEqual([]);
      await other.close();
    }
  });

  test('is the newest list, however fast lists follow each other, and nothing once all is saved', async () => {
    const tab = await Storage.open('anna', 'fast');
    await Promise.all(Array.from({ length: 20 }, (_, n) => tab.save([change(`c${n}`, n)])));
    await tab.close();
    const next = await Storage.open('anna', 'fast');
    expect((await next.takeOver()).map((w) => w.id)).toEqual(['c19']);
    await next.save([]);
    await next.close();
    const last = await Storage.open('anna', 'fast');
    expect(await last.takeOver()).toEqual([]);
    await last.close();
  });
});
