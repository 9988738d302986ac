/** Where the notes of takes go that come in, before they do. */
import type { Edit, Family, NotePlaces, NotesLane, NotesTo, Take, Voice } from '$lib/api/types';
import { placed, type Brought, type Places } from './placing';

/** Notes of one take that go together. */
export interface NoteLine {
  of: Brought;
  /** What they are called. */
  notes: string;
  family: Family;
  hits: number;
  proposed: NotesLane;
  /** What a person chose instead. */
  chosen?: NotesLane | undefined;
}

/** Whether a lane can get notes: it plays hits, and hits of its own. */
export const takesNotes = (voice: Voice): boolean =>
  voice.source.kind !== 'recording' && voice.follows === null;

/** A lane that notes can go to, for a list. */
export interface NotesOption {
  value: string;
  text: string;
  lane: NotesLane;
}

export const laneOf = (line: NoteLine): NotesLane => line.chosen ?? line.proposed;

/** The same for lanes that are the same. */
export function laneKey(lane: NotesLane): string {
  if (lane.kind === 'voice') return `v${lane.voice}`;
  return lane.kind === 'named' ? `n${lane.name}` : '';
}

/**
 * The lines of every take among what was brought, each take after the sounds and the takes before it; and the names of
 * the lanes that come in with them.
 *
 * * `before` – the lines as they were, for what was chosen.
 * * `ask` – the core's proposal for a take behind edits that come before it.
 */
export function noteLines(
  brought: Brought[],
  rate: number,
  to: Places,
  before: NoteLine[],
  ask: (before: Edit[], take: Take) => NotePlaces,
): { lines: NoteLine[]; coming: string[] } {
  const { placed: all } = placed(brought, rate, to, undefined, (take) => chosenLanes(before, take));
  const takes = new Map(brought.flatMap((of) => (of.result.kind === 'midi' ? [[of.result.take, of]] : [])));
  const coming = new Set<string>();
  const lines = all.flatMap(({ edit }, at) => {
    const of = edit.kind === 'add_take' ? takes.get(edit.take) : undefined;
    if (edit.kind !== 'add_take' || !of) return [];
    const found = ask(
      all.slice(0, at).map((p) => p.edit),
      edit.take,
    );
    for (const name of found.coming) coming.add(name);
    return found.places.map(({ to: proposed, ...line }) => ({ of, ...line, proposed }));
  });
  return { lines, coming: [...coming] };
}

/** The lines as they are now with what was chosen before, where its lane still comes or is there. */
export function chosenAgain(now: NoteLine[], before: NoteLine[], options: NotesOption[]): NoteLine[] {
  const offered = new Set(options.map((o) => o.value));
  return now.map((line) => {
    const { chosen } = before.find((b) => b.of === line.of && b.notes === line.notes) ?? {};
    return chosen && offered.has(laneKey(chosen)) ? { ...line, chosen } : line;
  });
}

/**
 * The lanes that notes can go to: a new one, those that play hits, those that come in with them.
 *
 * * `coming` – names of the latter.
 */
export function notesOptions(voices: Voice[], coming: string[]): NotesOption[] {
  const there = voices.filter(takesNotes);
  const lanes: { text: string; lane: NotesLane }[] = [
    { text: 'a new lane', lane: { kind: 'new' } },
    ...there.map((v) => ({ text: v.name, lane: { kind: 'voice', voice: v.id } as const })),
    ...coming.map((name) => ({ text: `${name}, which comes in`, lane: { kind: 'named', name } as const })),
  ];
  return lanes.map((option) => ({ ...option, value: laneKey(option.lane) }));
}

/** What was chosen, as the edit of a take names it. */
export const chosenLanes = (lines: NoteLine[], of: Brought): NotesTo[] =>
  lines.flatMap((line) => (line.of === of && line.chosen ? [{ notes: line.notes, to: line.chosen }] : []));
