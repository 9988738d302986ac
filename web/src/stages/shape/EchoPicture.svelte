<!-- The echoes of one hit over beats: how late, how loud, on which side. -->
<script lang="ts">
  import type { Delay } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';

  let { delay, of }: { delay: Delay; of: string } = $props();
  const { session } = desktop();
  let [width, height] = $state([360, 116]);
  const beat = $derived(60 / session.header.tempo_bpm);
  const echoes = $derived(session.desk.echoes(delay));
  /** Whole beats: all of the echoes, but for those that fall in so slowly that none could be told apart. */
  const beats = $derived(Math.max(2, Math.min(16, Math.ceil((echoes.at(-1)?.at_s ?? 0) / beat + 0.25))));
  const x = (s: number) => 8 + (s / (beats * beat)) * (width - 12);
  const middle = $derived(height / 2);
  const long = (db: number) => (1 + db / 60) * (middle - 6);
  const turns = $derived(echoes.some((e) => e.side !== 0));
  const first = $derived(echoes[0]);
</script>

<Graph
  bind:width
  bind:height
  label="Echoes of {of}: {echoes.length}, the first after {((first?.at_s ?? 0) * 1000).toFixed(1)} ms"
  data-testid="echoes"
>
  {#each Array.from({ length: beats + 1 }, (_, n) => n) as n (n)}
    <path d="M{x(n * beat)} 0V{height}" stroke={n % 4 === 0 ? 'var(--line)' : 'var(--faint)'} />
  {/each}
  <path d="M0 {middle}H{width}" stroke="var(--line)" />
  {#if turns}
    <text x="12" y="12" font-size="10" fill="var(--second)">left</text>
    <text x="12" y={height - 5} font-size="10" fill="var(--second)">right</text>
  {/if}
  <path d="M{x(0)} 4V{height - 4}" stroke="var(--ink)" stroke-width="2" />
  {#each echoes as echo (echo.at_s)}
    <path
      d="M{x(echo.at_s)} {middle - (echo.side <= 0 ? long(echo.level_db) : 0)}V{middle +
        (echo.side >= 0 ? long(echo.level_db) : 0)}"
      stroke="var(--return)"
      stroke-width="3"
    />
  {/each}
  {#snippet caption()}
    the hit, then its echoes; a line each beat, height from -60 to 0 dB; first after {(
      (first?.at_s ?? 0) * 1000
    ).toFixed(1)} ms
  {/snippet}
</Graph>
