<!-- Every lane's ways to main, from left to right: outputs broad, sends thin, keys dotted. Thickness follows level
while playing; an end can be dragged to another bus, or onto a return to send there as well. -->
<script lang="ts">
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$stages/desktop';
  import { plainSend } from '$lib/state/sends';
  import { layout, touching, type Box, type Ribbon } from './ribbons';

  const { session, player, board } = desktop();
  let width = $state(0);
  let frame = $state<HTMLDivElement>();
  const picture = $derived(layout(session.doc, board.lines, board.rowHeight, width));
  const height = $derived(
    Math.max(board.lines.length * board.rowHeight, ...picture.boxes.map((b) => b.y + b.height + 4)),
  );

  const live = $derived.by(() => {
    void player.meters.tick;
    return (strips: number[]) =>
      Math.max(...strips.map((s) => Math.max(...player.meters.level(s, 'out').peak)));
  });
  function thickness(ribbon: Ribbon): number {
    if (ribbon.means !== 'output' || !ribbon.heard) return ribbon.thickness;
    if (!player.playing) return ribbon.thickness;
    return 1.5 + Math.max(0, (dbOf(live(ribbon.from)) + 48) / 48) * ribbon.thickness * 1.25;
  }
  const level = (strip: number) => {
    void player.meters.slow;
    const { held } = player.meters.level(strip, 'out');
    return held > 0.001 ? dbOf(held).toFixed(1) : '';
  };
  const current = $derived(board.current?.strip.id);
  const touched = $derived(board.hovered === undefined ? undefined : touching(session.doc, board.hovered));
  function opacity(ribbon: Ribbon): number {
    if (touched) return touched(ribbon) ? 1 : 0.07;
    if (!ribbon.heard) return 0.5;
    return current !== undefined && ribbon.from.includes(current)
      ? 1
      : ribbon.means === 'output'
        ? 0.8
        : 0.65;
  }
  const dash = (ribbon: Ribbon) =>
    ribbon.means === 'key' ? '1 5' : ribbon.heard ? undefined : ribbon.means === 'output' ? '3 4' : '2 4';

  let drag = $state<{ ribbon: Ribbon; x: number; y: number }>();
  const at = (x: number, y: number): Box | undefined =>
    picture.boxes.find((b) => x > b.x - 12 && x < b.x + b.width + 6 && y > b.y - 3 && y < b.y + b.height + 3);
  const over = $derived(drag && at(drag.x, drag.y));
  function move(event: PointerEvent) {
    if (!drag || !frame) return;
    const { left, top } = frame.getBoundingClientRect();
    drag = { ...drag, x: event.clientX - left, y: event.clientY - top };
  }
  function drop() {
    const [ribbon, target] = [drag?.ribbon, over];
    drag = undefined;
    if (!ribbon || !target || ribbon.from.includes(target.strip.id)) return;
    const [strips, to] = [ribbon.from, target.strip.id];
    if (target.kind === 'return') session.apply({ kind: 'set_send', strips, send: plainSend(to) });
    else if (to !== ribbon.to) session.apply({ kind: 'set_output', strips, output: to });
  }
</script>

<svelte:window onkeydown={(event) => event.key === 'Escape' && (drag = undefined)} />

<div
  bind:this={frame}
  bind:clientWidth={width}
  class="pointer-events-none absolute top-0 right-0 left-[calc(var(--row-head)+132px)]"
  style:height="{height}px"
  aria-hidden="true"
>
  {#if width > 0}
    <svg {width} {height} class="block" data-testid="ribbons">
      {#each picture.ribbons as ribbon (ribbon.key)}
        <path
          d={ribbon.path}
          fill="none"
          stroke="var(--{ribbon.kind})"
          stroke-width={thickness(ribbon)}
          stroke-dasharray={dash(ribbon)}
          stroke-linecap={ribbon.means === 'key' ? 'round' : 'butt'}
          opacity={opacity(ribbon)}
          data-ribbon={ribbon.key}
        />
        {#if ribbon.means === 'key'}
          <circle
            cx={ribbon.end.x}
            cy={ribbon.end.y}
            r="3.5"
            fill="var(--panel)"
            stroke="var(--{ribbon.kind})"
            stroke-width="2"
            opacity={opacity(ribbon)}
          />
        {/if}
      {/each}
      {#each picture.boxes as box (box.strip.id)}
        {@const dark = box.kind === 'main'}
        <!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
        <g
          opacity={box.strip.mute ? 0.5 : 1}
          class="pointer-events-auto cursor-pointer"
          onpointerenter={() => (board.hovered = box.strip.id)}
          onpointerleave={() => (board.hovered = undefined)}
          onclick={(event) => {
            event.stopPropagation();
            board.select(`s${box.strip.id}`, event);
          }}
        >
          <rect
            x={box.x}
            y={box.y}
            width={box.width}
            height={box.height}
            rx={box.kind === 'return' ? box.height / 2 : 3}
            fill={over === box ? 'var(--chosen)' : dark ? 'var(--ink)' : 'var(--raised)'}
            stroke={box.kind === 'return' ? 'var(--return)' : 'var(--ink)'}
            stroke-width={current === box.strip.id || over === box ? 2.5 : 1.2}
          />
          <text
            x={box.x + 10}
            y={box.y + box.height / 2 + 4}
            fill={dark && over !== box ? 'var(--panel)' : 'var(--ink)'}
            font-size="12.5"
            font-weight={box.height > 40 || dark ? 600 : 400}
            >{box.strip.name.length > 11 ? `${box.strip.name.slice(0, 10)}…` : box.strip.name}</text
          >
          <text
            x={box.x + box.width - 8}
            y={box.y + box.height / 2 + 4}
            text-anchor="end"
            class="figures"
            font-size="11"
            fill={dark && over !== box ? 'var(--panel)' : 'var(--second)'}>{level(box.strip.id)}</text
          >
        </g>
      {/each}
      {#each picture.ribbons as ribbon (ribbon.key)}
        {#if ribbon.means === 'output' && !ribbon.key.endsWith('joined')}
          <!-- svelte-ignore a11y_no_static_element_interactions -->
          <circle
            cx={ribbon.end.x - 5}
            cy={ribbon.end.y}
            r="7"
            class="pointer-events-auto cursor-grab touch-none fill-transparent hover:fill-(--ink)"
            data-end={ribbon.from.map((id) => session.nameOf(id)).join(', ')}
            onpointerdown={(event) => {
              event.stopPropagation();
              event.currentTarget.setPointerCapture(event.pointerId);
              drag = { ribbon, x: ribbon.end.x, y: ribbon.end.y };
            }}
            onpointermove={move}
            onpointerup={drop}
            onpointercancel={() => (drag = undefined)}
          ></circle>
        {/if}
      {/each}
      {#if drag}
        <path
          d="M{drag.ribbon.path.match(/^M(\S+ [^A-Za-z]+)/)?.[1] ?? '0 0'}L{drag.x} {drag.y}"
          fill="none"
          stroke="var(--{drag.ribbon.kind})"
          stroke-width="3"
        />
        <circle cx={drag.x} cy={drag.y} r="5" fill="var(--{drag.ribbon.kind})" />
      {/if}
    </svg>
  {/if}
</div>
