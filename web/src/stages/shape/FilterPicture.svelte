<!-- The curve of a filter whose corner follows the level: at rest, and at full level. -->
<script lang="ts">
  import type { Settings } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import FreqGrid from './FreqGrid.svelte';
  import { freqs, line } from './pictures';

  let { settings, of }: { settings: Settings; of: string } = $props();
  const { session } = desktop();
  let [width, height] = $state([360, 116]);
  const [LOUD, QUIET] = [24, -36];
  const at = freqs(90);
  const curves = $derived(session.desk.curve(settings, at));
  const y = (db: number) => ((LOUD - Math.max(QUIET, Math.min(LOUD, db))) / (LOUD - QUIET)) * height;
  const draw = (curve: number[] = []) => line(curve.map((db, n) => [(n / 90) * width, y(db)]));
</script>

<Graph bind:width bind:height label="Curve of {of} at rest and at full level">
  <FreqGrid {width} {height} />
  {#each [-24, -12, 0, 12] as db (db)}
    <path d="M0 {y(db)}H{width}" stroke={db === 0 ? 'var(--line)' : 'var(--faint)'} />
    <text x="3" y={y(db) - 2} font-size="10" fill="var(--second)">{db > 0 ? '+' : ''}{db}</text>
  {/each}
  <path d={draw(curves?.moved)} fill="none" stroke="var(--look)" stroke-width="1.4" stroke-dasharray="4 3" />
  <path d={draw(curves?.rest)} fill="none" stroke="var(--ink)" stroke-width="1.8" />
  {#snippet caption()}
    line: at silence; <span class="text-look">dashed: at full level</span>
  {/snippet}
</Graph>
