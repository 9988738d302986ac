<!-- Two sounds together against the first alone, by frequency: as they are, and as they would be. -->
<script lang="ts">
  import type { Comb } from '$lib/api/types';
  import Graph from '$lib/ui/Graph.svelte';
  import { desktop } from '$stages/desktop';
  import { hz } from '../shape/pictures';

  interface Props {
    comb: Comb | undefined;
    first: string;
    second: string;
    /** Whether what would be is another thing. */
    off: boolean;
  }
  let { comb, first, second, off }: Props = $props();
  const { paths } = desktop();
  let [width, height] = $state([520, 150]);
  const RANGE = 18;
  const [low, high] = [30, 18_000];
  const x = (f: number) => (Math.log2(f / low) / Math.log2(high / low)) * width;
  const y = (db: number) => height / 2 - (Math.max(-RANGE, Math.min(RANGE, db)) / RANGE) * (height / 2 - 3);
  /** A line with a gap where the first sound has nothing. */
  const path = (values: (number | null)[]) => {
    let gap = true;
    return (comb?.hz ?? []).reduce((line, f, n) => {
      const db = values[n] ?? null;
      const step = db === null ? '' : `${gap ? 'M' : 'L'}${x(f).toFixed(1)} ${y(db).toFixed(1)}`;
      gap = db === null;
      return line + step;
    }, '');
  };
  const at = (f: number) => {
    const n = comb?.hz.indexOf(f) ?? -1;
    return comb?.now_db[n] ?? 0;
  };
  const hollows = $derived(comb?.hollows_hz.toSorted((a, b) => a - b) ?? []);
</script>

<Graph
  bind:width
  bind:height
  label="{first} and {second} together against {first}, {hollows.length === 0
    ? 'without hollows'
    : `hollows at ${hollows.map(hz).join(', ')}`}"
>
  {#each [-12, -6, 6, 12] as db (db)}
    <path d="M0 {y(db)}H{width}" stroke="var(--faint)" />
  {/each}
  {#each [100, 1000, 10_000] as f (f)}
    <path d="M{x(f)} 0V{height}" stroke="var(--faint)" />
    <text x={x(f) + 3} y={height - 4} class="fill-(--second) text-[10px]">{hz(f)}</text>
  {/each}
  <path d="M0 {y(0)}H{width}" stroke="var(--line)" />
  {#if comb}
    {#if off}<path d={path(comb.mended_db)} fill="none" stroke="var(--good)" stroke-dasharray="4 3" />{/if}
    <path d={path(comb.now_db)} fill="none" stroke="var(--ink)" stroke-width="1.7" />
    {#each hollows as f (f)}
      <circle cx={x(f)} cy={y(at(f))} r="4" fill="none" stroke="var(--look)" stroke-width="1.8" />
    {/each}
  {:else}
    <text x={width / 2} y={height / 2 - 6} text-anchor="middle" class="fill-(--second) text-[12px]"
      >{paths.fresh ? 'nothing in common to hold against each other' : 'being heard …'}</text
    >
  {/if}
  <text x="4" y="12" class="fill-(--second) text-[10px]">+{RANGE} dB</text>
  {#snippet caption()}both together over {first} alone{off ? '; dashed: once mended' : ''}{hollows.length > 0
      ? `; circles: hollows at ${hollows.slice(0, 4).map(hz).join(', ')}`
      : ''}{/snippet}
</Graph>
