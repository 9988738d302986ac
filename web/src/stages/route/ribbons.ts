/** Where ribbons and boxes of the routing picture lie. Only drawing; what feeds what is the document's. */
import type { Session, Strip } from '$lib/api/types';
import type { Kind, Line } from '$lib/state/rows';
import { sourcesOfKey } from '$lib/state/duckers';

export interface Box {
  strip: Strip;
  kind: Kind;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Ribbon {
  key: string;
  means: 'output' | 'send' | 'key';
  /** Strips whose sound runs in it; several where a family is folded. */
  from: number[];
  /** Nothing where it ends in the open. */
  to: number | undefined;
  path: string;
  end: { x: number; y: number };
  /** Family of what runs in it. */
  kind: Kind;
  thickness: number;
  heard: boolean;
}

export interface Picture {
  boxes: Box[];
  ribbons: Ribbon[];
}

const BOX = { width: 116, height: 28, gap: 6 };
/** Where boxes may begin, right of where lanes' ribbons branch. */
const LEFT = 150;
/** Where keys leave and reach lanes, and where sends branch off. */
const KEY_X = 22;
const SEND_X = 10;

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

interface Source {
  strips: Strip[];
  x: number;
  y: number;
  kind: Kind;
  thickness: number;
}

function push<K, T>(map: Map<K, T[]>, key: K, value: T): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

/** Lanes as they stand on the board: one source a lane, or one for each output of a folded family. */
function laneSources(lines: Line[], rowHeight: number): { sources: Source[]; joined: Ribbon[] } {
  const sources: Source[] = [];
  const joined: Ribbon[] = [];
  const at = new Map<number, number>();
  lines.forEach((line, index) => {
    const y = index * rowHeight + rowHeight / 2;
    if (line.row?.voice) {
      const { strip, kind } = line.row;
      const other = at.get(strip.id);
      if (other === undefined) {
        at.set(strip.id, y);
        sources.push({ strips: [strip], x: 0, y, kind, thickness: 9 });
      } else {
        // Voices of one channel merge into its first lane's ribbon.
        joined.push({
          key: `${line.key} joined`,
          means: 'output',
          from: [strip.id],
          to: undefined,
          path: `M0 ${y}C40 ${y} 30 ${other} 70 ${other}`,
          end: { x: 70, y: other },
          kind,
          thickness: 5,
          heard: !strip.mute,
        });
      }
    } else if (line.fold && !line.fold.open) {
      const groups = new Map<number | null, Strip[]>();
      for (const { strip } of line.fold.rows) {
        if (at.has(strip.id)) continue;
        at.set(strip.id, y);
        push(groups, strip.output, strip);
      }
      [...groups.values()].forEach((strips, n) => {
        const off = (n - (groups.size - 1) / 2) * 7;
        const thickness = Math.min(14, 5 + 2 * strips.length);
        sources.push({ strips, x: 0, y: y + off, kind: line.fold.family, thickness });
      });
    }
  });
  return { sources, joined };
}

export function layout(doc: Session, lines: Line[], rowHeight: number, width: number): Picture {
  const { sources, joined } = laneSources(lines, rowHeight);
  const laneLines = lines.filter((l) => l.row?.voice || l.fold).length;
  const stations = doc.strips.filter((s) => ['bus', 'return', 'main'].includes(s.kind));
  const depths = new Map(stations.map((s) => [s.id, s.kind === 'main' ? 0 : Math.max(1, steps(doc, s))]));
  const deepest = Math.max(1, ...depths.values());
  const column = (depth: number) => LEFT + ((width - LEFT - BOX.width - 14) * (deepest - depth)) / deepest;

  const ends = new Map<number, { y: number; kind: Kind }[]>();
  for (const { strips, y, kind } of sources)
    for (const strip of strips) if (strip.output !== null) push(ends, strip.output, { y, kind });

  // From the deepest to main: each box stands in the middle of what feeds it, and pushes others down. Returns
  // stand below the buses of their column.
  const boxes = new Map<number, Box>();
  const bottom = Math.max(laneLines * rowHeight, stations.length * (BOX.height + BOX.gap));
  const colour = (id: number, own: Kind): Kind => {
    const kinds = new Set((ends.get(id) ?? []).map((f) => f.kind));
    return kinds.size === 1 ? ([...kinds][0] as Kind) : own;
  };
  for (let depth = deepest; depth >= 0; depth -= 1) {
    const level = stations
      .filter((s) => depths.get(s.id) === depth)
      .map((strip) => {
        const fed = strip.kind === 'return' ? [] : (ends.get(strip.id) ?? []);
        const middle = fed.length ? fed.reduce((sum, f) => sum + f.y, 0) / fed.length : bottom;
        return { strip, middle, fed: fed.length };
      })
      .sort((a, b) => a.middle - b.middle);
    let left = level.length;
    let free = 4;
    for (const { strip, middle, fed } of level) {
      left -= 1;
      const height = depth <= 1 && fed > 2 && level.length < 5 ? 72 : BOX.height;
      const last = bottom - height - left * (BOX.height + BOX.gap) - 2;
      const y = Math.max(free, Math.min(middle - height / 2, last));
      free = y + height + BOX.gap;
      const kind = strip.kind === 'return' ? 'return' : strip.kind === 'main' ? 'main' : 'bus';
      boxes.set(strip.id, { strip, kind, x: column(depth), y, width: BOX.width, height });
      if (strip.output !== null)
        push(ends, strip.output, { y: y + height / 2, kind: colour(strip.id, kind) });
    }
  }

  const all: Source[] = [...sources];
  for (const box of boxes.values()) {
    if (box.kind === 'main') continue;
    const [x, y] = [box.x + box.width, box.y + box.height / 2];
    all.push({ strips: [box.strip], x, y, kind: colour(box.strip.id, box.kind), thickness: 14 });
  }
  return {
    boxes: [...boxes.values()],
    ribbons: [...joined, ...outputs(all, boxes), ...sends(all, boxes), ...keys(doc, sources, boxes)],
  };
}

/** Ribbons arrive in the order of their heights, so that they cross as little as can be. */
function outputs(sources: Source[], boxes: Map<number, Box>): Ribbon[] {
  const feeds = new Map<number, number>();
  for (const { strips } of sources) {
    const to = strips[0]?.output;
    if (to != null) feeds.set(to, (feeds.get(to) ?? 0) + 1);
  }
  const arrived = new Map<number, number>();
  return [...sources]
    .sort((a, b) => a.y - b.y)
    .filter(({ strips }) => strips[0]?.kind !== 'trigger')
    .map(({ strips, x, y, kind, thickness }) => {
      const output = strips[0]?.output ?? undefined;
      const to = output === undefined ? undefined : boxes.get(output);
      const from = strips.map((s) => s.id);
      const ribbon = { key: `out ${from.join(' ')}`, means: 'output' as const, from, kind };
      if (!to)
        return {
          ...ribbon,
          to: undefined,
          path: `M${x} ${y}h40`,
          end: { x: x + 40, y },
          thickness: 2,
          heard: false,
        };
      const index = arrived.get(to.strip.id) ?? 0;
      arrived.set(to.strip.id, index + 1);
      const end = { x: to.x, y: to.y + ((index + 0.5) / (feeds.get(to.strip.id) ?? 1)) * to.height };
      const bend = x + (to.x - x) / 2;
      const path = `M${x} ${y}C${bend} ${y} ${bend} ${end.y} ${end.x} ${end.y}`;
      return { ...ribbon, to: to.strip.id, path, end, thickness, heard: !strips.every((s) => s.mute) };
    });
}

function sends(sources: Source[], boxes: Map<number, Box>): Ribbon[] {
  return sources.flatMap(({ strips, x, y, kind }) => {
    const targets = new Map<number, Strip[]>();
    for (const strip of strips) for (const send of strip.sends) push(targets, send.to, strip);
    return [...targets].flatMap(([to, senders]): Ribbon[] => {
      const box = boxes.get(to);
      if (!box) return [];
      const [fromX, fromY] = x === 0 ? [SEND_X, y + 2] : [x - BOX.width / 2, y + BOX.height / 2];
      const end = { x: box.x, y: box.y + box.height / 2 };
      const bend = Math.max(30, Math.abs(end.x - fromX) / 2);
      const loud = senders.some(
        (s) => !s.mute && s.sends.some((d) => d.to === to && !d.mute && d.level_db > -100),
      );
      return [
        {
          key: `send ${senders.map((s) => s.id).join(' ')} ${to}`,
          means: 'send',
          from: senders.map((s) => s.id),
          to,
          path: `M${fromX} ${fromY}C${fromX + bend} ${fromY} ${end.x - bend} ${end.y} ${end.x} ${end.y}`,
          end,
          kind,
          thickness: 1.5,
          heard: loud && !box.strip.mute,
        },
      ];
    });
  });
}

/** Keys as dotted arcs: between lanes along their left ends, otherwise from box to box. */
function keys(doc: Session, lanes: Source[], boxes: Map<number, Box>): Ribbon[] {
  const place = (id: number, end: boolean) => {
    const lane = lanes.find((l) => l.strips.some((s) => s.id === id));
    if (lane) return { x: KEY_X, y: lane.y, kind: lane.kind };
    const box = boxes.get(id);
    if (!box) return undefined;
    return { x: box.x + (end ? 12 : box.width / 2), y: box.y + (end ? 0 : box.height), kind: box.kind };
  };
  return doc.strips.flatMap((strip) =>
    strip.chain.flatMap((processor): Ribbon[] =>
      (processor.key ? sourcesOfKey(processor.key) : []).flatMap((source): Ribbon[] => {
        const [from, to] = [place(source, false), place(strip.id, true)];
        if (!from || !to) return [];
        const bow = from.x === to.x ? 44 : 24;
        return [
          {
            key: `key ${processor.id} ${source}`,
            means: 'key',
            from: [source],
            to: strip.id,
            path: `M${from.x} ${from.y}C${from.x + bow} ${from.y} ${to.x + bow} ${to.y} ${to.x} ${to.y}`,
            end: to,
            kind: from.kind,
            thickness: 2,
            heard: processor.on,
          },
        ];
      }),
    ),
  );
}

/** Whether a ribbon has to do with a strip: leads from it on, leads to it, or keys one of the two. */
export function touching(doc: Session, strip: number): (ribbon: Ribbon) => boolean {
  const reach = (next: (s: Strip) => number[]) => {
    const seen = new Set([strip]);
    for (const id of seen) {
      const at = doc.strips.find((s) => s.id === id);
      if (at) next(at).forEach((n) => seen.add(n));
    }
    return seen;
  };
  const onward = (s: Strip) => [...(s.output === null ? [] : [s.output]), ...s.sends.map((d) => d.to)];
  const after = reach(onward);
  const before = reach((s) => doc.strips.filter((o) => onward(o).includes(s.id)).map((o) => o.id));
  return ({ means, from, to }) =>
    means === 'key'
      ? from.includes(strip) || to === strip
      : from.some((id) => after.has(id)) || (to !== undefined && before.has(to)) || from.includes(strip);
}
