<!-- A beat shape over its length: points that are dragged, added, bent and removed, by pointer and keys. -->
<script lang="ts">
  import { setSettings } from '$lib/state/edits';
  import type { BeatShape, Processor, ShapePoint, Strip } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Field from '$lib/ui/Field.svelte';
  import Graph from '$lib/ui/Graph.svelte';
  import { added, curvePath, gridOf, moved, pointText, removed, startOf } from './shape';

  interface Props {
    strip: Strip;
    processor: Processor;
    shape: BeatShape;
    /** What labels call it. */
    of: string;
  }
  let { strip, processor, shape, of }: Props = $props();
  const { session, board } = desktop();
  let [width, height] = $state([360, 132]);
  let chosen = $state(0);
  let dragging = $state(false);
  const info = $derived(session.desk.kinds.find((k) => k.default.kind === 'beat_shape')?.points);
  const starts = $derived(info?.starts ?? []);
  const word = $derived(startOf(shape.points, starts));
  const beats = $derived(Math.round(board.time.bar_ticks / board.time.beat_ticks));
  const grid = $derived(gridOf(shape.length, beats));
  const lines = $derived(Array.from({ length: grid.parts }, (_, n) => n));
  const curve = $derived(session.desk.shape(shape, 240));
  const point = $derived(shape.points[Math.min(chosen, shape.points.length - 1)]);
  const at = $derived(Math.min(chosen, shape.points.length - 1));
  const edit = (points: ShapePoint[]) =>
    setSettings(session.settledDoc, strip.id, processor.id, {
      ...processor.settings,
      points,
    } as Processor['settings']);
  const set = (points: ShapePoint[]) => session.apply(edit(points));
  const x = (p: ShapePoint) => (p.at_percent / 100) * width;
  const y = (p: ShapePoint) => 2 + (p.down_percent / 100) * (height - 4);
  /** Where the pointer is, in per cent. */
  function place(event: MouseEvent) {
    const box = (event.currentTarget as Element).closest('svg')?.getBoundingClientRect();
    if (!box) return { at: 0, down: 0 };
    return {
      at: (100 * (event.clientX - box.left)) / box.width,
      down: (100 * (event.clientY - box.top - 2)) / (box.height - 4),
    };
  }
  let latest: ShapePoint[] | undefined;
  function begin(event: PointerEvent, n: number) {
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    [chosen, dragging, latest] = [n, true, undefined];
  }
  function drag(event: PointerEvent) {
    if (!dragging) return;
    latest = moved(shape.points, chosen, place(event));
    session.try(edit(latest));
  }
  function end() {
    if (!dragging) return;
    dragging = false;
    if (latest) set(latest);
    else session.cancelLive();
  }
  function cancel() {
    dragging = false;
    session.cancelLive();
  }
  function key(event: KeyboardEvent, n: number) {
    const by = event.shiftKey ? 5 : 1;
    const p = shape.points[n];
    if (!p) return;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-by, 0],
      ArrowRight: [by, 0],
      ArrowUp: [0, -by],
      ArrowDown: [0, by],
    };
    const step = steps[event.key];
    if (step) set(moved(shape.points, n, { at: p.at_percent + step[0], down: p.down_percent + step[1] }));
    else if (event.key === 'Delete' || event.key === 'Backspace') set(removed(shape.points, n));
    else if (event.key === 'Enter') more({ at: p.at_percent + 5, down: p.down_percent });
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  function more(where: { at: number; down: number }) {
    const made = added(shape.points, where, info?.most ?? 0);
    if (!made) return session.tell(`A shape has ${info?.most ?? 0} points at most.`);
    const [points, n] = made;
    set(points);
    chosen = n;
  }
  const values = [
    { what: 'at_percent', name: 'Place', min: 0, max: 100, step: 0.5, digits: 1 },
    { what: 'down_percent', name: 'Down', min: 0, max: 100, step: 1, digits: 0 },
    { what: 'bend_percent', name: 'Bend', min: -100, max: 100, step: 5, digits: 0 },
  ] as const;
  const withValue = (what: (typeof values)[number]['what'], to: number) =>
    what === 'bend_percent'
      ? shape.points.map((p, n) => (n === at ? { ...p, bend_percent: to } : p))
      : moved(shape.points, at, {
          at: what === 'at_percent' ? to : (point?.at_percent ?? 0),
          down: what === 'down_percent' ? to : (point?.down_percent ?? 0),
        });
</script>

<div class="flex min-h-0 min-w-[260px] flex-1 flex-col gap-1">
  <p class="flex flex-wrap items-center gap-x-2 text-[12px]" role="group" aria-label="Shapes to start from">
    <span class="text-second">Begin with</span>
    {#each starts as [name, points] (name)}
      <button
        class="rounded-sm px-1 {word === name ? 'bg-chosen' : 'hover:bg-chosen underline'}"
        aria-pressed={word === name}
        onclick={() => set(points)}>{name}</button
      >
    {/each}
  </p>
  <Graph bind:width bind:height role="group" label="{of}: what is taken away over {shape.length}">
    {#each lines as n (n)}
      <path
        d="M{(n / grid.parts) * width} 0V{height}"
        stroke={n % grid.each === 0 ? 'var(--line)' : 'var(--faint)'}
      />
    {/each}
    <!-- svelte-ignore a11y_no_static_element_interactions -->
    <rect
      {width}
      {height}
      fill="transparent"
      ondblclick={(event) => more(place(event))}
      data-testid="shape-ground"
    />
    <path
      d="{curvePath(curve, width, height, shape.depth_db)}V2H0Z"
      fill="var(--look)"
      opacity="0.15"
      pointer-events="none"
    />
    <path
      d={curvePath(curve, width, height, shape.depth_db)}
      fill="none"
      stroke="var(--look)"
      stroke-width="1.8"
      pointer-events="none"
    />
    <path d="M0 2H{width}" stroke="var(--second)" pointer-events="none" />
    {#each shape.points as p, n (n)}
      <circle
        cx={Math.min(width - 5, Math.max(5, x(p)))}
        cy={Math.min(height - 5, Math.max(5, y(p)))}
        r={n === at ? 5.5 : 4.5}
        fill={n === at ? 'var(--ink)' : 'var(--panel)'}
        stroke="var(--ink)"
        stroke-width="1.6"
        class="cursor-grab focus-visible:outline-none"
        style:stroke-width={n === at ? 2.4 : 1.6}
        tabindex="0"
        role="slider"
        aria-label="Point {n + 1} of {of}"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={p.at_percent}
        aria-valuetext={pointText(p, shape)}
        onpointerdown={(event) => begin(event, n)}
        onpointermove={drag}
        onpointerup={end}
        onpointercancel={cancel}
        ondblclick={(event) => {
          event.stopPropagation();
          set(removed(shape.points, n));
        }}
        onfocus={() => (chosen = n)}
        onkeydown={(event) => key(event, n)}
      />
    {/each}
    <text
      x={width - 4}
      y={height - 4}
      text-anchor="end"
      class="pointer-events-none fill-(--second) text-[10px]">-{shape.depth_db.toFixed(1)} dB</text
    >
    {#snippet caption()}
      drag a point, double-click for one more or one less; arrows, Enter, Delete do the same
    {/snippet}
  </Graph>
  {#if point}
    <div class="grid grid-cols-[repeat(auto-fill,minmax(104px,1fr))] gap-x-4">
      {#each values as { what, name, ...field } (what)}
        <Field
          {name}
          label="{name}, point {at + 1} of {of}"
          value={point[what]}
          unit="%"
          reset={what === 'bend_percent' ? 0 : point[what]}
          {...field}
          onlive={(to) => session.try(edit(withValue(what, to)))}
          oncommit={(to) => set(withValue(what, to))}
          oncancel={() => session.cancelLive()}
        />
      {/each}
    </div>
  {/if}
</div>
