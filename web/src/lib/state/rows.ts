/** The rows of the board and the lines that they stand in. */
import type { Family, Session, Strip, Voice } from '$lib/api/types';
import { FAMILIES } from '$lib/families';

export type Kind = Family | 'return' | 'bus' | 'main';

/** One row of the board: a lane, a return, a bus or main. */
export interface Row {
  key: string;
  kind: Kind;
  name: string;
  strip: Strip;
  voice?: Voice;
  /** Other voices on the same channel. */
  shares: string[];
  /** Whether it is the first row of its strip, where several voices share that. */
  leads: boolean;
}

/** One line of the board: a row, or the head of a family whose rows follow where it is open. */
export type Line =
  | { key: string; row: Row; fold?: undefined }
  | { key: string; row?: undefined; fold: { family: Family; rows: Row[]; open: boolean } };

/** Whether two rows show the same. */
export function sameRow(a: Row, b: Row): boolean {
  return (
    a.strip === b.strip &&
    a.voice === b.voice &&
    a.kind === b.kind &&
    a.name === b.name &&
    a.leads === b.leads &&
    a.shares.join('\n') === b.shares.join('\n')
  );
}

/** Lanes in the order of the board, then returns, buses and main. */
export function rowsOf(doc: Session): Row[] {
  const strips = new Map(doc.strips.map((s) => [s.id, s]));
  const sharing = new Map<number, Voice[]>();
  for (const voice of doc.voices) {
    const list = sharing.get(voice.channel);
    if (list) list.push(voice);
    else sharing.set(voice.channel, [voice]);
  }
  const lanes = doc.voices.flatMap((voice): Row[] => {
    const strip = strips.get(voice.channel);
    if (!strip) return [];
    const all = sharing.get(voice.channel) ?? [];
    const shares = all.filter((v) => v.id !== voice.id).map((v) => v.name);
    const leads = all[0]?.id === voice.id;
    return [{ key: `v${voice.id}`, kind: voice.family, name: voice.name, strip, voice, shares, leads }];
  });
  const rest = (['return', 'bus', 'main'] as const).flatMap((kind) =>
    doc.strips
      .filter((s) => s.kind === kind)
      .map((strip): Row => ({ key: `s${strip.id}`, kind, name: strip.name, strip, shares: [], leads: true })),
  );
  return [...lanes, ...rest];
}

/** Rows by the rank of their strips, the lowest first; those without one come last, all else as it was. */
export const byRank = (rows: Row[], ranks: Map<number, number>): Row[] =>
  rows.toSorted((a, b) => (ranks.get(a.strip.id) ?? Infinity) - (ranks.get(b.strip.id) ?? Infinity) || 0);

/** The new rows, where one that shows the same as before stays the same object. */
export function keepSame(before: Map<string, Row>, rows: Row[]): Row[] {
  return rows.map((row) => {
    const last = before.get(row.key);
    return last && sameRow(last, row) ? last : row;
  });
}

/** A row that stays the same object has the same line. */
const lines = new WeakMap<Row, Line>();

/**
 * What stands on the board, line by line.
 *
 * * `filter` – shows rows with it in their names alone, whatever is folded.
 * * `folded` – the open families, where lanes stand under heads of their families.
 */
export function linesOf(rows: Row[], filter: string, folded: Family[] | undefined): Line[] {
  const line = (row: Row): Line => {
    const known = lines.get(row) ?? { key: row.key, row };
    lines.set(row, known);
    return known;
  };
  if (filter) return rows.filter((r) => r.name.toLowerCase().includes(filter.toLowerCase())).map(line);
  if (!folded) return rows.map(line);
  const families = FAMILIES.flatMap(({ value: family }): Line[] => {
    const lanes = rows.filter((r) => r.voice?.family === family);
    const open = folded.includes(family);
    if (lanes.length === 0) return [];
    return [{ key: `f-${family}`, fold: { family, rows: lanes, open } }, ...(open ? lanes.map(line) : [])];
  });
  return [...families, ...rows.filter((r) => !r.voice).map(line)];
}

/** How rows are chosen by a press: one, one more or less with Ctrl, up to it with Shift. The last one is the newest. */
export function chosenBy(
  selected: string[],
  shown: string[],
  key: string,
  held?: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean },
): string[] {
  if (held?.ctrlKey || held?.metaKey) {
    const rest = selected.filter((k) => k !== key);
    return selected.includes(key) && rest.length > 0 ? rest : [...rest, key];
  }
  if (held?.shiftKey && selected.length > 0) {
    const [a, b] = [shown.indexOf(selected.at(-1) ?? ''), shown.indexOf(key)];
    const range = shown.slice(Math.min(a, b), Math.max(a, b) + 1);
    return a < b ? range : range.reverse();
  }
  return [key];
}

/**
 * The moves, one after another, that bring some things of a list to a place together, in the order that they have.
 *
 * * `to` – the thing whose place they take: they come before it where they stood behind it, else after it.
 */
export function movesTo<T>(order: T[], chosen: T[], to: T): { what: T; to: number }[] {
  const moving = order.filter((x) => chosen.includes(x));
  const target = order.indexOf(to);
  if (target < 0 || moving.length === 0) return [];
  const rest = order.filter((x) => !chosen.includes(x));
  const behind = order.indexOf(moving[0] as T) < target;
  const before = order.slice(0, target + (behind ? 1 : 0)).filter((x) => !chosen.includes(x)).length;
  const wanted = [...rest.slice(0, before), ...moving, ...rest.slice(before)];
  const now = [...order];
  return wanted.flatMap((what, at) => {
    if (now[at] === what) return [];
    now.splice(now.indexOf(what), 1);
    now.splice(at, 0, what);
    return [{ what, to: at }];
  });
}

/**
 * What stands next to the chosen ones by a step up or down, whose place they take; nothing at the ends.
 *
 * * `shown` – what is in sight: a step goes past what is not.
 */
export function nextTo<T>(shown: T[], chosen: T[], by: 1 | -1): T | undefined {
  const places = shown.flatMap((x, at) => (chosen.includes(x) ? [at] : []));
  return places.length === 0 ? undefined : shown[by < 0 ? Math.min(...places) - 1 : Math.max(...places) + 1];
}
