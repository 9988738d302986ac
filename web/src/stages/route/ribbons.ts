/** Where ribbons and boxes of the routing picture lie. Only drawing; what feeds what is the document's. */
import type { Session, Strip } from '$lib/api/types';
import type { Row } from '$lib/state/board.svelte';

export interface Box {
  strip: Strip;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Ribbon {
  from: number;
  path: string;
  /** Family of what runs in it. */
  kind: string;
  thickness: number;
  heard: boolean;
}

const BOX = { width: 116, height: 30 };

/** Strips between a strip and main, main included. */
export function steps(doc: Session, strip: Strip): number {
  let count = 0;
  let at: Strip | undefined = strip;
  while (at && at.output !== null && count < doc.strips.length) {
    const next: number = at.output;
    at = doc.strips.find((s) => s.id === next);
    count += 1;
  }
  return count;
}

export function layout(
  doc: Session,
  rows: Row[],
  rowHeight: number,
  width: number,
): { boxes: Box[]; ribbons: Ribbon[] } {
  const lanes = rows.filter((r) => r.voice);
  const buses = doc.strips.filter((s) => s.kind !== 'channel');
  const depths = new Map(buses.map((s) => [s.id, s.kind === 'main' ? 0 : Math.max(1, steps(doc, s))]));
  const deepest = Math.max(1, ...depths.values());
  const left = 150;
  const column = (depth: number) => left + ((width - left - BOX.width - 14) * (deepest - depth)) / deepest;

  const ends = new Map<number, { y: number; kind: string }[]>();
  lanes.forEach((row, index) => {
    const y = index * rowHeight + rowHeight / 2;
    if (row.strip.output !== null)
      (ends.get(row.strip.output) ?? put(ends, row.strip.output)).push({ y, kind: row.kind });
  });

  // From the deepest buses to main: each box stands in the middle of what feeds it, and pushes others down.
  const boxes = new Map<number, Box>();
  const bottom = Math.max(lanes.length * rowHeight, buses.length * (BOX.height + 6));
  for (let depth = deepest; depth >= 0; depth -= 1) {
    const level = buses
      .filter((s) => depths.get(s.id) === depth)
      .map((strip) => {
        const fed = ends.get(strip.id) ?? [];
        const middle = fed.length ? fed.reduce((sum, f) => sum + f.y, 0) / fed.length : bottom - BOX.height;
        return { strip, middle };
      })
      .sort((a, b) => a.middle - b.middle);
    let free = 4;
    for (const { strip, middle } of level) {
      const height = depth <= 1 && (ends.get(strip.id)?.length ?? 0) > 2 ? 84 : BOX.height;
      const y = Math.max(free, Math.min(middle - height / 2, bottom - height - 2));
      free = y + height + 6;
      boxes.set(strip.id, { strip, x: column(depth), y, width: BOX.width, height });
      if (strip.output !== null) {
        const kinds = new Set((ends.get(strip.id) ?? []).map((f) => f.kind));
        const kind = kinds.size === 1 ? ([...kinds][0] as string) : 'bus';
        (ends.get(strip.output) ?? put(ends, strip.output)).push({ y: y + height / 2, kind });
      }
    }
  }

  const starts: { strip: Strip; x: number; y: number; kind: string; thickness: number }[] = [];
  const ribbons: Ribbon[] = [];
  const seen = new Set<number>();
  lanes.forEach((row, index) => {
    const y = index * rowHeight + rowHeight / 2;
    const first = !seen.has(row.strip.id);
    seen.add(row.strip.id);
    // Voices of one channel merge into its first lane's ribbon.
    if (first) starts.push({ strip: row.strip, x: 0, y, kind: row.kind, thickness: 9 });
    else {
      const other = lanes.findIndex((l) => l.strip.id === row.strip.id);
      const to = other * rowHeight + rowHeight / 2;
      ribbons.push({
        from: row.strip.id,
        path: `M0 ${y}C40 ${y} 30 ${to} 70 ${to}`,
        kind: row.kind,
        thickness: 5,
        heard: !row.strip.mute,
      });
    }
  });
  for (const box of boxes.values()) {
    if (box.strip.kind === 'main') continue;
    const fed = ends.get(box.strip.id) ?? [];
    const kinds = new Set(fed.map((f) => f.kind));
    const kind = kinds.size === 1 ? ([...kinds][0] as string) : 'bus';
    const [x, y] = [box.x + box.width, box.y + box.height / 2];
    starts.push({ strip: box.strip, x, y, kind, thickness: 14 });
  }
  // Ribbons arrive in the order of their heights, so that they cross as little as can be.
  const arrived = new Map<number, number>();
  for (const { strip, x, y, kind, thickness } of starts.sort((a, b) => a.y - b.y)) {
    const to = strip.output === null ? undefined : boxes.get(strip.output);
    const heard = to !== undefined && !strip.mute;
    if (!to) {
      ribbons.push({ from: strip.id, path: `M${x} ${y}h40`, kind, thickness: 2, heard });
      continue;
    }
    const feeds = doc.strips.filter((s) => s.output === to.strip.id).length;
    const index = arrived.get(to.strip.id) ?? 0;
    arrived.set(to.strip.id, index + 1);
    const end = to.y + ((index + 0.5) / feeds) * to.height;
    const bend = x + (to.x - x) / 2;
    ribbons.push({
      from: strip.id,
      path: `M${x} ${y}C${bend} ${y} ${bend} ${end} ${to.x} ${end}`,
      kind,
      thickness,
      heard,
    });
  }
  return { boxes: [...boxes.values()], ribbons };
}

function put<T>(map: Map<number, T[]>, key: number): T[] {
  const list: T[] = [];
  map.set(key, list);
  return list;
}
