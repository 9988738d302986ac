/** What can be done with a send of a row, or with those of all chosen rows together. */
import type { Edit, Session, Strip, StripSend } from '$lib/api/types';
import type { BoardState } from './board.svelte';
import type { SessionState } from './session.svelte';
import { triedTogether } from './tried';

/** A send as a parallel path gets it: full level before the fader, with width and pan. */
export const parallelSend = (to: number): StripSend => ({
  to,
  tap: 'pre_fader',
  level_db: 0,
  pan_percent: 0,
  mute: false,
  placed: true,
});

/** A send after the fader. */
export const plainSend = (to: number): StripSend => ({
  ...parallelSend(to),
  tap: 'post_fader',
  placed: false,
});

/** What a parallel path does to a sound; rooms and echoes follow the fader. */
const PARALLEL = ['compressor', 'saturation', 'clipper', 'crush', 'enhancer'];

/** A new send to a return, taken where most others that go there are taken; the first as what the return does asks for. */
export function newSend(doc: Session, to: number): StripSend {
  const others = doc.strips.flatMap((s) => s.sends.filter((send) => send.to === to));
  const pre = others.filter((send) => send.tap === 'pre_fader').length;
  const chain = doc.strips.find((s) => s.id === to)?.chain ?? [];
  const parallel =
    others.length > 0 ? pre * 2 >= others.length : PARALLEL.includes(chain[0]?.settings.kind ?? '');
  return parallel ? parallelSend(to) : plainSend(to);
}

export function sendActions(session: SessionState, board: BoardState, strip: Strip, to: number) {
  const send = strip.sends.find((s) => s.to === to);
  /** With several rows chosen, the send of each changes, and keeps what else it is; nothing feeds itself. */
  const strips = () =>
    board.together(strip.id).filter((id) => {
      const kind = session.doc.strips.find((s) => s.id === id)?.kind;
      return id !== to && kind !== 'trigger' && kind !== 'main';
    });
  const edit = (change: Partial<StripSend>): Edit => ({
    kind: 'batch',
    edits: strips().map((id) => {
      const own = session.doc.strips.find((s) => s.id === id)?.sends.find((s) => s.to === to);
      return {
        kind: 'set_send',
        strips: [id],
        send: { ...(own ?? send ?? newSend(session.doc, to)), ...change },
      };
    }),
  });
  const set = (change: Partial<StripSend>) => session.apply(edit(change));
  /** Only sends that are there can move together; where this one is new, all chosen rows get it. */
  const moving = () => (send ? strips() : [strip.id]);
  const begins = () => (newSend(session.doc, to).tap === 'pre_fader' ? 0 : -20);
  return {
    set,
    remove: () => session.apply({ kind: 'remove_sends', strips: strips(), to }),
    /** From before the fader to behind it, and back; before it with the row's width and pan. */
    turnTap: () =>
      send &&
      set(
        send.tap === 'pre_fader' ? { tap: 'post_fader', placed: false } : { tap: 'pre_fader', placed: true },
      ),
    level: {
      ...triedTogether(session, moving, { what: 'send_db', to }, (level_db) => edit({ level_db })),
      // One that is moved a step up from nothing begins where such sends begin.
      ...(send ? {} : { oncommit: (db: number) => set({ level_db: db <= -99 ? begins() : db }) }),
    },
    pan: triedTogether(session, moving, { what: 'send_pan_percent', to }, (pan_percent) =>
      edit({ pan_percent }),
    ),
  };
}
