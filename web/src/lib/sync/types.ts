/** What the machine that keeps a session's changes talks to: the core, the server, the browser's storage. */
import type { Done, Edit, EditDone, Made, OpenSession, Patch, Session, StepLine } from '$lib/api/types';

/** The document in the core. */
export interface Core {
  open(session: Session): void;
  document(): Session;
  /** Throws `Refused` where the core refuses. */
  apply(edit: Edit): Done;
  /** A change that others know of. */
  patch(patch: Patch): void;
  /** Takes back what nobody else has seen. */
  takeBack(patch: Patch): void;
  /** Ids of the session that an edit names. */
  ids(edit: Edit): number[];
  /** The edit with other ids. */
  mapped(edit: Edit, map: [number, number][]): Edit;
}

/** A change that waits for the server. It survives reloads, so it holds nothing that cannot be stored. */
export type Waiting = {
  /** Of this change; sent again under it, it happens once. */
  id: string;
  label: string;
  /** When it was made, in ms since 1970. */
  at: number;
  /** Whether it was sent at least once: the server may have it, whatever came back. */
  tried?: boolean;
} & (
  | { kind: 'edit'; edit: Edit; made: Made[] }
  /** The step that is undone or done again. */
  | { kind: 'undo' | 'redo'; step: string }
);

/** The server, for one session. Failures are `ApiError`s. */
export interface SyncServer {
  send(change: Waiting, base: number): Promise<EditDone>;
  open(): Promise<OpenSession>;
  /** Those of some changes that went through. */
  known(ids: string[]): Promise<EditDone[]>;
  /** A step with its ways there and back; 404 where it is forgotten. */
  step(id: string): Promise<StepLine>;
  /** The changes behind a revision, in their order, the first of them where they are many; 404 where they are gone. */
  changesAfter(revision: number): Promise<EditDone[]>;
}

/** Where changes are kept until the server has them. */
export interface Keep {
  /** Keeps all that waits, instead of what was kept; done once it would survive a crash. */
  save(waiting: Waiting[]): Promise<void>;
}

/** Keeps nothing: where the browser gives no storage. */
export const keepNothing: Keep = { save: () => Promise.reject(new Error('nothing is kept here')) };

/** A step that can be undone, or done again. */
export interface Step {
  id: string;
  label: string;
  /** Asked for where it is none. */
  there: Patch | null;
  back: Patch | null;
  /** Of an edit that was taken back before it was sent: doing it again makes it anew. */
  edit?: Edit;
}

/**
 * Where the newest change is: in this tab only, in the browser's storage, at the server. `saved` is said only of what the
 * server confirmed.
 */
export type SaveState = 'waiting' | 'kept' | 'saved';

/** Why changes are not sent on, and what would help. */
export interface Trouble {
  /** A sentence for people. */
  sentence: string;
  /** Tried again by itself, after signing in, or when a person says so. */
  then: 'again' | 'sign-in' | 'ask';
}

/** What the machine tells. */
export interface Told {
  /** The document changed by a patch. */
  patched(patch: Patch): void;
  /** The document is another one. */
  opened(session: Session, about: { rendersStarted?: number }): void;
  /** Things have other ids now. */
  renamed(ids: Map<number, number>): void;
  /** A sentence for people. */
  said(sentence: string): void;
  /** Something of the machine's state changed. */
  changed(): void;
}
