<!-- What the processor is, what it takes away, and how the row sounds without it. -->
<script lang="ts">
  import type { KindInfo, Processor, Strip } from '$lib/api/types';
  import { desktop } from '$lib/state/context';
  import GaugeBar from '$lib/ui/GaugeBar.svelte';
  import Without from '$lib/ui/Without.svelte';

  let { strip, processor, kind }: { strip: Strip; processor: Processor; kind: KindInfo } = $props();
  const { player } = desktop();
  /** The most that the meter shows, in dB. */
  const DEPTH = 24;
  const reduction = $derived.by(() => {
    void player.meters.tick;
    return player.meters.processor(processor.id).reduction;
  });
</script>

<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
  <h2 class="font-semibold">{kind.name}</h2>
  {#if kind.reduces}
    <span
      class="bg-faint relative h-2 w-32"
      role="meter"
      aria-label="Reduction"
      aria-valuemin={0}
      aria-valuemax={DEPTH}
      aria-valuenow={reduction}
      aria-valuetext="{reduction.toFixed(1)} dB"
    >
      <span
        class="bg-look absolute inset-y-0 right-0"
        style:width="{Math.min(100, (reduction / DEPTH) * 100)}%"
      ></span>
    </span>
    <span class="figures text-second w-16">{reduction > 0.05 ? `-${reduction.toFixed(1)} dB` : '0.0 dB'}</span
    >
  {/if}
  <Without {strip} {processor} />
  <Without {strip} />
  <GaugeBar />
</div>
