<!-- How long a reverb rings at every frequency, as its own filters make it. -->
<script lang="ts">
  import type { Reverb } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import FreqGrid from './FreqGrid.svelte';
  import { freqs, line } from './pictures';

  let { reverb, of }: { reverb: Reverb; of: string } = $props();
  const { session } = desktop();
  let [width, height] = $state([360, 116]);
  const at = freqs(60);
  const seconds = $derived(session.desk.decay(reverb, at));
  const most = $derived(Math.max(0.25, ...seconds) * 1.15);
  const y = (s: number) => height - (s / most) * (height - 14);
  const path = $derived(line(seconds.map((s, n) => [(n / 60) * width, y(s)])));
  const marks = $derived([most / 3, (2 * most) / 3].map((s) => Number(s.toPrecision(1))));
</script>

<Graph bind:width bind:height label="Decay of {of} in seconds over frequency">
  <FreqGrid {width} {height} />
  {#each marks as s (s)}
    <path d="M0 {y(s)}H{width}" stroke="var(--faint)" />
    <text x="3" y={y(s) - 2} font-size="10" fill="var(--second)">{s} s</text>
  {/each}
  <path d="{path}L{width} {height}L0 {height}Z" fill="var(--return)" opacity="0.2" />
  <path d={path} fill="none" stroke="var(--ink)" stroke-width="1.8" />
  {#snippet caption()}time to fall by 60 dB, over frequency in Hz{/snippet}
</Graph>
