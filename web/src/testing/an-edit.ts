import type { Edit, Session } from '$lib/api/types';

/** An edit of any part of a document, by chance. */
export function anEdit(doc: Session, roll: (below: number) => number): Edit {
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
