<!-- A bar of a level from -60 to +6 dBFS: RMS thick, peak thin, held peak as a mark, an overload light. Drawn by the
     painter of the meters, so that it costs no layout. -->
<script lang="ts">
  import type { Bars } from '$lib/audio/painter';
  import type { MeterBoard } from '$lib/audio/meters.svelte';

  interface Props {
    meters: MeterBoard;
    read: () => Bars;
    color: string;
    /** A level to reach, in dBFS, marked on the bar. */
    target?: number | undefined;
    class?: string;
  }
  let { meters, read, color, target, class: extra = '' }: Props = $props();
  let canvas = $state<HTMLCanvasElement>();
  $effect(() => canvas && meters.painter.add({ canvas, read: () => read(), target }));
</script>

<canvas bind:this={canvas} class="block {extra}" style:color aria-hidden="true"></canvas>
