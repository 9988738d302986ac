<!-- A bar of a level from -60 to +6 dBFS: RMS thick, peak thin, held peak as a mark, an overload light. It only keeps
     the place: the surface that it stands in draws it. -->
<script lang="ts">
  import type { Bars } from '$lib/audio/painter';
  import { nearestSurface } from './meter-surface';

  interface Props {
    read: () => Bars;
    color: string;
    /** A level to reach, in dBFS, marked on the bar. */
    target?: number | undefined;
    class?: string;
  }
  let { read, color, target, class: extra = '' }: Props = $props();
  let place = $state<HTMLElement>();
  const surface = nearestSurface();
  $effect(() => {
    // A new colour is read from the place anew.
    void color;
    return place && surface()?.add({ place, read: () => read(), target });
  });
</script>

<div bind:this={place} class={extra} style:color aria-hidden="true"></div>
