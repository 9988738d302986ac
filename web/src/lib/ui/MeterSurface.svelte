<!-- A part of the page with meters in it, which are all drawn on one canvas over it. -->
<script lang="ts">
  import type { Snippet } from 'svelte';
  import { shareSurface } from './meter-surface';
  import type { Surface } from '$lib/audio/painter';
  import type { MeterBoard } from '$lib/audio/meters.svelte';

  interface Props {
    meters: MeterBoard;
    class?: string;
    children: Snippet;
  }
  let { meters, class: extra = '', children }: Props = $props();
  let canvas = $state<HTMLCanvasElement>();
  let surface = $state.raw<Surface>();
  shareSurface(() => surface);

  $effect(() => {
    const host = canvas?.parentElement;
    if (!canvas || !host) return;
    const made = meters.painter.surface(canvas);
    surface = made.surface;
    // What comes, goes or is moved inside takes meters to other places.
    const redraw = () => made.surface.redraw();
    const moves = new MutationObserver(redraw);
    moves.observe(host, { childList: true, subtree: true });
    const sizes = new ResizeObserver(redraw);
    sizes.observe(host);
    return () => {
      moves.disconnect();
      sizes.disconnect();
      made.end();
    };
  });
</script>

<div class="relative {extra}">
  {@render children()}
  <canvas bind:this={canvas} class="pointer-events-none absolute" aria-hidden="true"></canvas>
</div>
