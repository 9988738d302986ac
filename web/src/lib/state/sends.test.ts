import { describe, expect, test } from 'vitest';
import type { Edit, Session } from '$lib/api/types';
import { addLanes, newVoice, onDesk } from '$testing/on-desk';
import type { BoardState } from './board.svelte';
import { newSend, parallelSend, plainSend, sendActions } from './sends';
import type { SessionState } from './session.svelte';

/** Kick, Snare and Pad; a press and a room that nothing feeds. */
function sending(chosen: string[]) {
  const desk = onDesk(
    addLanes(newVoice('Kick'), newVoice('Snare', 'snare'), newVoice('Pad', 'music')),
    { kind: 'new_return', name: 'Press', feeders: [], silent: true },
    { kind: 'new_return', name: 'Room', feeders: [], silent: false },
    (doc) => ({
      kind: 'add_processor',
      strips: [doc.strips.find((s) => s.name === 'Press')?.id ?? 0],
      settings: desk0.kinds.find((k) => k.default.kind === 'compressor')?.default ?? desk0.kinds[0]!.default,
      key: null,
      at: null,
    }),
  );
  const doc = (): Session => desk.document();
  const done: Edit[] = [];
  const session = {
    get doc() {
      return doc();
    },
    apply: (edit: Edit) => {
      done.push(edit);
      desk.apply(edit);
      return true;
    },
    try: () => {},
    cancelLive: () => {},
  } as unknown as SessionState;
  const lane = (name: string) => doc().voices.find((v) => v.name === name)?.channel ?? 0;
  const back = (name: string) => doc().strips.find((s) => s.name === name)?.id ?? 0;
  const strips = chosen.map((name) => lane(name) || back(name));
  const board = { together: (id: number) => (strips.includes(id) ? strips : [id]) } as unknown as BoardState;
  const strip = (id: number) => doc().strips.find((s) => s.id === id)!;
  const of = (row: string, to: string) => sendActions(session, board, strip(lane(row)), back(to));
  const sendOf = (row: string, to: string) => strip(lane(row)).sends.find((s) => s.to === back(to));
  return { of, sendOf, back, lane, doc, done };
}
const desk0 = onDesk();

describe('a send', () => {
  test('begins as what the return does asks for, then as others that go there', () => {
    const { of, sendOf, back, doc } = sending([]);
    expect(newSend(doc(), back('Press'))).toEqual(parallelSend(back('Press')));
    expect(newSend(doc(), back('Room'))).toEqual(plainSend(back('Room')));
    of('Kick', 'Press').level.oncommit(-100);
    of('Kick', 'Room').level.oncommit(-100);
    expect(sendOf('Kick', 'Press')).toMatchObject({ level_db: 0, tap: 'pre_fader', placed: true });
    expect(sendOf('Kick', 'Room')).toMatchObject({ level_db: -20, tap: 'post_fader', placed: false });
    of('Kick', 'Press').turnTap();
    expect(sendOf('Kick', 'Press')).toMatchObject({ tap: 'post_fader', placed: false });
    expect(newSend(doc(), back('Press'))).toEqual(plainSend(back('Press')));
  });

  test('of chosen rows changes on all of them and keeps what else each is; nothing feeds itself', () => {
    const { of, sendOf, back, doc } = sending(['Kick', 'Snare', 'Press']);
    of('Kick', 'Press').level.oncommit(-6);
    expect([sendOf('Kick', 'Press')?.level_db, sendOf('Snare', 'Press')?.level_db]).toEqual([-6, -6]);
    of('Snare', 'Press').set({ mute: true });
    expect([sendOf('Kick', 'Press')?.mute, sendOf('Snare', 'Press')?.mute]).toEqual([true, true]);
    expect(sendOf('Pad', 'Press')).toBeUndefined();
    expect(doc().strips.find((s) => s.id === back('Press'))?.sends).toEqual([]);
    of('Kick', 'Press').remove();
    expect([sendOf('Kick', 'Press'), sendOf('Snare', 'Press')]).toEqual([undefined, undefined]);
  });

  test('that is dragged moves those of chosen rows as far, keeping their balance', () => {
    const { of, sendOf } = sending(['Kick', 'Snare']);
    of('Kick', 'Press').level.oncommit(-6);
    of('Snare', 'Press').set({});
    const { together } = of('Kick', 'Press').level;
    together?.()?.(-6, -9, 'apply');
    expect([sendOf('Kick', 'Press')?.level_db, sendOf('Snare', 'Press')?.level_db]).toEqual([-9, -9]);
  });
});
