/** For tests: the real core, holding a document that edits made. */
import { patched } from '$lib/sync/patched';
import { readFileSync } from 'node:fs';
import type { Edit, Family, Key, NewVoice, Session } from '$lib/api/types';
import { EMPTY } from '$lib/sync/model';
import { Desk } from '$lib/audio/desk';
import { keyOf } from '$lib/state/duckers';

let compiled: WebAssembly.Module | undefined;

export function coreModule(): WebAssembly.Module {
  compiled ??= new WebAssembly.Module(readFileSync(`${import.meta.dirname}/../lib/wasm/lane.wasm`));
  return compiled;
}

/** A desk with a new session on which some edits were made, each from the document before it. */
export function onDesk(...edits: (Edit | ((doc: Session) => Edit))[]): Desk {
  const desk = new Desk(coreModule());
  desk.open(EMPTY);
  for (const edit of edits) desk.apply(typeof edit === 'function' ? edit(desk.document()) : edit);
  return desk;
}

/** A lane to be made, without a sound. */
export const newVoice = (name: string, family: Family = 'low', hits: NewVoice['hits'] = []): NewVoice => ({
  name,
  family,
  source: { kind: 'empty' },
  output: null,
  trim_db: 0,
  hits,
});

export const addLanes = (...voices: NewVoice[]): Edit => ({ kind: 'add_voices', voices, assets: [] });

/** A key that hears the whole of some strips, as the core begins it. */
export const wholeKey = (...sources: number[]): Key => keyOf(onDesk(), ...sources);

/** Whole numbers from 0 up to a bound, the same for the same seed (Marsaglia's xorshift). */
export function dice(seed: number): (below: number) => number {
  let x = seed * 2_654_435_761 + 1;
  return (below) => {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    return (x >>> 0) % below;
  };
}

/** A session whose document stands on the desk alone, with everything saved. */
export function sessionOn(desk: Desk) {
  let doc = desk.document();
  return {
    id: 'session',
    desk,
    settled: () => Promise.resolve(),
    get header() {
      return doc.header;
    },
    get doc() {
      return doc;
    },
    get settledDoc() {
      return doc;
    },
    apply: (edit: Edit) => {
      doc = patched(doc, desk.apply(edit).there);
      return true;
    },
  };
}
