<!-- Every lane's way to main, from left to right. Thickness follows level while playing. -->
<script lang="ts">
  import { dbOf } from '$lib/audio/meters.svelte';
  import { desktop } from '$lib/state/context';
  import { layout, type Ribbon } from './ribbons';

  const { session, player, board } = desktop();
  let width = $state(0);
  const picture = $derived(layout(session.doc, board.shown, board.rowHeight, width));
  const height = $derived(board.shown.length * board.rowHeight);

  const live = $derived.by(() => {
    void player.meters.tick;
    return (strip: number) => Math.max(...player.meters.level(strip, 'out').peak);
  });
  function thickness(ribbon: Ribbon): number {
    if (!player.playing || !ribbon.heard) return ribbon.heard ? ribbon.thickness : 2;
    const db = dbOf(live(ribbon.from));
    return 1.5 + Math.max(0, (db + 48) / 48) * ribbon.thickness * 1.25;
  }
  const level = (strip: number) => {
    const { held } = player.meters.level(strip, 'out');
    void player.meters.tick;
    return held > 0.001 ? dbOf(held).toFixed(1) : '';
  };
  const current = $derived(board.current?.strip.id);
</script>

<div
  bind:clientWidth={width}
  class="pointer-events-none absolute top-0 right-0 left-[412px]"
  style:height="{height}px"
  aria-hidden="true"
>
  {#if width > 0}
    <svg {width} {height} class="block">
      {#each picture.ribbons as ribbon, at (at)}
        <path
          d={ribbon.path}
          fill="none"
          stroke="var(--{ribbon.kind})"
          stroke-width={thickness(ribbon)}
          stroke-dasharray={ribbon.heard ? undefined : '3 4'}
          opacity={ribbon.heard ? (current === ribbon.from ? 1 : 0.8) : 0.5}
        />
      {/each}
      {#each picture.boxes as box (box.strip.id)}
        {@const dark = box.strip.kind === 'main'}
        <g opacity={box.strip.mute ? 0.5 : 1}>
          <rect
            x={box.x}
            y={box.y}
            width={box.width}
            height={box.height}
            rx="3"
            fill={dark ? 'var(--ink)' : 'var(--raised)'}
            stroke="var(--ink)"
            stroke-width={current === box.strip.id ? 2.5 : 1.2}
          />
          <text
            x={box.x + 9}
            y={box.y + box.height / 2 + 4}
            fill={dark ? 'var(--panel)' : 'var(--ink)'}
            font-size="13"
            font-weight={box.height > 40 || dark ? 600 : 400}
            >{box.strip.name.length > 11 ? `${box.strip.name.slice(0, 10)}…` : box.strip.name}</text
          >
          <text
            x={box.x + box.width - 8}
            y={box.y + box.height / 2 + 4}
            text-anchor="end"
            class="figures"
            fill={dark ? 'var(--panel)' : 'var(--second)'}>{level(box.strip.id)}</text
          >
        </g>
      {/each}
    </svg>
  {/if}
</div>
