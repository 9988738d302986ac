<!-- What level comes out for a level that goes in, with the level of this moment on it. -->
<script lang="ts">
  import type { Settings } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import { line } from './pictures';

  interface Props {
    settings: Settings;
    /** Level going in, in dBFS; nothing where it is silent or something else says the level. */
    level: number | undefined;
    of: string;
  }
  let { settings, level, of }: Props = $props();
  const { session } = desktop();
  let [width, height] = $state([116, 116]);
  const size = $derived(Math.min(width, height));
  const FLOOR = -60;
  const place = (db: number) => Math.max(0, Math.min(1, (db - FLOOR) / -FLOOR)) * (size - 4) + 2;
  const levels = Array.from({ length: 61 }, (_, n) => FLOOR + n);
  const out = $derived(session.desk.transfer(settings, levels));
  const path = $derived(line(out.map((db, n) => [place(levels[n] ?? FLOOR), size - place(db ?? FLOOR)])));
  const dot = $derived.by(() => {
    if (level === undefined || level < FLOOR) return undefined;
    const db = session.desk.transfer(settings, [level])[0];
    return { x: place(level), y: size - place(db ?? level) };
  });
</script>

<Graph square bind:width bind:height label="Transfer curve of {of}, from -60 to 0 dBFS">
  {#each [-48, -36, -24, -12] as db (db)}
    <path d="M{place(db)} 0V{size}M0 {size - place(db)}H{size}" stroke="var(--faint)" />
  {/each}
  <path d="M2 {size - 2}L{size - 2} 2" stroke="var(--line)" />
  <path d={path} fill="none" stroke="var(--ink)" stroke-width="1.8" />
  {#if dot}<circle cx={dot.x} cy={dot.y} r="3.5" fill="var(--look)" />{/if}
  {#snippet caption()}out over in, to 0 dBFS{/snippet}
</Graph>
