import { beforeEach, describe, expect, test } from 'vitest';
import { Follower } from './follower';

/** A desk that counts what is new on it. */
class Desk {
  beginnings = 0;
  fresh = 0;
  changes = 0;

  engine(fresh: boolean): ArrayBuffer {
    if (fresh) this.fresh += 1;
    const words = new Float64Array(fresh ? 10 : this.changes);
    this.changes = 0;
    return words.buffer;
  }
}

const moment = () => new Promise<void>((resolve) => queueMicrotask(resolve));

describe('what the engine is told', () => {
  let desk: Desk;
  let sent: { words: number; begin: boolean }[];
  let follower: Follower;

  const change = () => {
    desk.changes += 1;
    follower.changed();
  };

  beforeEach(async () => {
    [desk, sent] = [new Desk(), []];
    follower = new Follower(desk, (words, begin) => sent.push({ words: words.byteLength / 8, begin }));
    follower.changed();
    await moment();
    follower.followed(1);
  });

  test('everything at first', () => {
    expect(sent).toEqual([{ words: 10, begin: true }]);
  });

  test('there and back in one moment is one message', async () => {
    change();
    change();
    await moment();
    expect(sent.slice(1)).toEqual([{ words: 2, begin: false }]);
  });

  test('what changes while the engine is busy waits and goes together', async () => {
    change();
    await moment();
    change();
    await moment();
    change();
    await moment();
    expect(sent.length).toBe(2);
    follower.followed(1);
    await moment();
    expect(sent.slice(2)).toEqual([{ words: 2, begin: false }]);
  });

  test('where nothing is new, nothing is sent and nothing waits for it', async () => {
    follower.changed();
    await moment();
    change();
    await moment();
    expect(sent.length).toBe(2);
  });

  test('an engine that begins anew gets everything, whatever was under way', async () => {
    change();
    await moment();
    follower.begin();
    await moment();
    expect(sent[2]).toEqual({ words: 10, begin: true });
    expect(desk.fresh).toBe(2);
  });

  test('a desk that begins anew is noticed until the engine begins with it', () => {
    desk.beginnings += 1;
    expect(follower.isLost).toBe(true);
    follower.begin();
    expect(follower.isLost).toBe(false);
  });
});
