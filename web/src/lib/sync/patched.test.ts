import { describe, expect, test } from 'vitest';
import type { Edit, Session } from '$lib/api/types';
import { Desk } from '$lib/audio/desk';
import { coreModule, dice } from '$testing/on-desk';
import { Refused } from '$lib/audio/refused';
import { EMPTY } from './model';
import { patched } from './patched';

const module = coreModule();

/** An edit of any part of a document, by chance. */
function anEdit(doc: Session, roll: (below: number) => number): Edit {
  const one = <T>(list: T[]) => list[roll(list.length)];
  const strip = one(doc.strips)?.id ?? 1;
  const voice = one(doc.voices)?.id ?? 99;
  const pattern = one(doc.patterns)?.id ?? 3;
  const section = one(doc.sections)?.id ?? 4;
  const hit = { at_ticks: 240 * roll(16), length_ticks: 240, velocity: 1 + roll(127), tune_st: 0 };
  const made: Edit[] = [
    {
      kind: 'add_voices',
      voices: [
        { name: 'Kick', family: 'low', source: { kind: 'empty' }, output: null, trim_db: 0, hits: [] },
      ],
      assets: [],
    },
    { kind: 'remove_voices', voices: [voice] },
    { kind: 'move_voice', voice, to: roll(4) },
    { kind: 'set_hits', pattern, voice, hits: [hit] },
    { kind: 'set_strips', strips: [strip], change: { what: 'fader_db', to: -roll(40) } },
    { kind: 'new_bus', name: 'Bus', feeders: [] },
    { kind: 'remove_strip', strip, feeders_to: 1 },
    { kind: 'set_mix_bus', strip },
    { kind: 'give_pattern', section, copy: roll(2) === 0 },
    { kind: 'add_section', name: 'More', pattern, bars: 1 + roll(4), at: roll(3) },
    { kind: 'remove_section', section },
    { kind: 'set_header', header: { ...doc.header, tempo_bpm: 60 + roll(100) } },
    { kind: 'set_stem_plan', plan: { ...doc.stem_plan, tail: roll(2) === 0 } },
    { kind: 'dismiss_check', key: `sound ${voice}`, dismissed: roll(2) === 0 },
  ];
  return made[roll(made.length)] as Edit;
}

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
