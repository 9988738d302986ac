import { describe, expect, test } from 'vitest';
import { Desk } from '$lib/audio/desk';
import { coreModule, dice } from '$testing/on-desk';
import { anEdit } from '$testing/an-edit';
import { Refused } from '$lib/audio/refused';
import { EMPTY } from './model';
import { patched } from './patched';

const module = coreModule();

describe('a patch on the screen', () => {
  test.each([1, 2, 3, 4, 5, 6])('gives what the core has, there and back (seed %i)', (seed) => {
    const desk = new Desk(module);
    desk.open(EMPTY);
    const roll = dice(seed);
    let shown = desk.document();
    let done = 0;
    for (let n = 0; n < 120; n += 1) {
      try {
        const { there, back } = desk.apply(anEdit(shown, roll));
        const before = shown;
        shown = patched(shown, there);
        expect(shown).toEqual(desk.document());
        expect({ ...patched(shown, back), next_id: 0 }).toEqual({ ...before, next_id: 0 });
        done += 1;
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        expect(shown).toEqual(desk.document());
      }
    }
    expect(done).toBeGreaterThan(40);
  });

  test('lists that did not change stay the same objects', () => {
    const desk = new Desk(module);
    desk.open(EMPTY);
    const before = desk.document();
    const { there } = desk.apply({
      kind: 'set_strips',
      strips: [2],
      change: { what: 'fader_db', to: -6 },
    });
    const after = patched(before, there);
    expect(after.patterns).toBe(before.patterns);
    expect(after.strips[0]).toBe(before.strips[0]);
    expect(after.strips[1]).not.toBe(before.strips[1]);
  });
});
