import { describe, expect, test } from 'vitest';
import type { Bypass, Processor, Strip } from '$lib/api/types';
import type { Player } from '$lib/audio/player.svelte';
import { Compare } from './compare.svelte';
import type { Gauge } from '$lib/state/gauge.svelte';
import type { SessionState } from '$lib/state/session.svelte';

const processor = (id: number) => ({ id }) as Processor;
const strip = { id: 6, kind: 'channel', chain: [processor(7), processor(8)] } as unknown as Strip;

/** A comparison over loudness as it was measured: after trim, and after each processor of the strip. */
function comparing(trimmed: number | null, first: number, second: number) {
  const doc = { strips: [strip] };
  const session = { doc, settledDoc: doc } as unknown as SessionState;
  const heard: Bypass[] = [];
  const player = { passBy: (to: Bypass) => heard.push(to) } as unknown as Player;
  const found = {
    measured: {
      strips: [
        {
          strip: 6,
          stations: [
            { station: 'trimmed', lufs: trimmed },
            { station: { processor: 7 }, lufs: first },
            { station: { processor: 8 }, lufs: second },
          ],
        },
      ],
    },
  };
  const gauge = { measure: () => Promise.resolve({ found }) } as unknown as Gauge;
  return { compare: new Compare(session, player, gauge), heard, session };
}

describe('how it sounds without', () => {
  test('is turned down to what it is with, and nothing else moves', async () => {
    const { compare, heard } = comparing(-20, -26, -26);
    await compare.processor(strip, processor(7));
    expect(compare.now).toMatchObject({ offset: -6, down: 0, heard: 'without' });
    expect(heard.at(-1)).toEqual({ processors: [[7, -6]], main_db: 0 });
    compare.flip();
    expect(heard.at(-1)).toEqual({ processors: [], main_db: 0 });
  });

  test('never gets louder: where it has to come up, all of it goes down, with and without', async () => {
    const { compare, heard } = comparing(-20, -20, -14);
    await compare.processor(strip, processor(8));
    expect(compare.now).toMatchObject({ offset: 6, down: 6 });
    expect(heard.at(-1)).toEqual({ processors: [[8, 6]], main_db: -6 });
    compare.flip();
    expect(heard.at(-1)).toEqual({ processors: [], main_db: -6 });
    compare.flip();
    expect(heard.at(-1)).toEqual({ processors: [[8, 6]], main_db: -6 });
    compare.end();
    expect(heard.at(-1)).toEqual({ processors: [], main_db: 0 });
    expect(compare.now).toBeUndefined();
  });

  test('of a chain makes up at its last processor', async () => {
    const { compare, heard } = comparing(-20, -22, -23);
    await compare.chain(strip);
    expect(heard.at(-1)?.processors).toEqual([
      [7, 0],
      [8, -3],
    ]);
    expect(compare.is('chain', 6)).toBe(true);
  });

  test('silence asks for nothing, and a changed session is told', async () => {
    const { compare, session } = comparing(null, -30, -30);
    await compare.processor(strip, processor(7));
    expect(compare.now?.offset).toBe(0);
    expect(compare.stale).toBe(false);
    (session as unknown as { settledDoc: object }).settledDoc = {};
    expect(compare.stale).toBe(true);
  });

  test('flipping what does not go on does nothing', () => {
    const { compare, heard } = comparing(-20, -20, -20);
    compare.flip();
    expect(heard).toEqual([]);
  });
});
