<!-- What a compressor takes away, or lifts, over the loop on the beat, with what feeds it as strokes and its budget. -->
<script lang="ts">
  import type { Press } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import Graph from '$lib/ui/Graph.svelte';
  import { bars, reductionLine, scaleOf } from '../duck/picture';

  interface Props {
    press: Press | undefined;
    /** What it shall take away at most, in dB; 0 where nobody said. */
    budget: number;
    of: string;
  }
  let { press, budget, of }: Props = $props();
  const { board, paths } = desktop();
  let [width, height] = $state([520, 150]);
  const lifts = $derived((press?.deepest_db ?? 0) < 0);
  const values = $derived(press?.reduction_db.map(Math.abs) ?? []);
  const deep = $derived(scaleOf(Math.max(Math.abs(press?.deepest_db ?? 0), budget)));
  /** The lowest part has the strokes. */
  const floor = $derived(height - 18);
  const y = (db: number) => 2 + (db / deep) * (floor - 2);
  const grid = $derived(bars(paths.bars, board.time.bar_ticks / board.time.beat_ticks, width));
  const steps = $derived(Array.from({ length: Math.floor(deep / 6) }, (_, n) => 6 * (n + 1)));
  const over = $derived(budget > 0 && Math.abs(press?.deepest_db ?? 0) > budget + 0.05);
</script>

<Graph
  bind:width
  bind:height
  label="What {of} {lifts ? 'lifts' : 'takes away'} over the loop, {deep} dB at most{over
    ? ', over its budget'
    : ''}"
  data-over={`${over}`}
>
  {#each grid as line (line.x)}
    <path
      d="M{line.x} 0V{height}"
      stroke={line.bar ? 'var(--second)' : 'var(--faint)'}
      stroke-opacity={line.bar ? 0.5 : 1}
    />
  {/each}
  {#each steps as db (db)}
    <path d="M0 {y(db)}H{width}" stroke="var(--faint)" />
  {/each}
  {#if values.length > 0}
    <path d="{reductionLine(values, width, floor, deep)}V2H0Z" fill="var(--look)" opacity="0.15" />
    <path d={reductionLine(values, width, floor, deep)} fill="none" stroke="var(--look)" stroke-width="1.6" />
  {/if}
  {#if budget > 0}
    <path d="M0 {y(budget)}H{width}" stroke={over ? 'var(--wrong)' : 'var(--good)'} stroke-dasharray="5 3" />
    <text x="4" y={y(budget) + 11} class="text-[10px] {over ? 'fill-(--wrong)' : 'fill-(--good)'}"
      >budget {budget.toFixed(1)} dB</text
    >
  {/if}
  {#each press?.strokes ?? [] as at (at)}
    <path d="M{at * width} {height}V{floor + 4}" stroke="var(--return)" stroke-width="2" />
  {/each}
  <path d="M0 2H{width}" stroke="var(--second)" />
  <text x={width - 4} y={y(deep) - 3} text-anchor="end" class="fill-(--second) text-[10px]"
    >{lifts ? '+' : '-'}{deep} dB</text
  >
  {#if !press}
    <text x={width / 2} y={height / 2} text-anchor="middle" class="fill-(--second) text-[12px]"
      >{paths.fresh ? 'no compressor that is on' : 'being heard …'}</text
    >
  {/if}
  {#snippet caption()}{lifts ? 'lifted' : 'taken away, from above'}, a line each 6 dB; strokes: what feeds it{/snippet}
</Graph>
