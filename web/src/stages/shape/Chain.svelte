<!-- The chain of a row, in order: each processor with its switch and what it takes away. -->
<script lang="ts">
  import type { Processor } from '$lib/api/types';
  import type { Row } from '$lib/state/board.svelte';
  import { desktop } from '$lib/state/context';
  import { outline } from './pictures';

  let { row }: { row: Row } = $props();
  const { session, player, board } = desktop();
  const first = $derived(board.rows.find((r) => r.strip.id === row.strip.id)?.key === row.key);
  const name = (p: Processor) =>
    session.desk.kinds.find((k) => k.default.kind === p.settings.kind)?.name ?? p.settings.kind;
  const reduction = $derived.by(() => {
    void player.meters.tick;
    return (p: Processor) => player.meters.processor(p.id).reduction;
  });
  const picture = (p: Processor) => outline(session.desk, p.settings, 34, 14);
  const choose = (event: MouseEvent, p: Processor) => {
    event.stopPropagation();
    board.selected = [row.key];
    board.processor = p.id;
  };
</script>

{#if first}
  <div class="flex min-w-0 flex-1 items-center gap-1.5 overflow-x-auto pl-2">
    {#each row.strip.chain as processor (processor.id)}
      <button
        class="border-line relative flex h-[22px] shrink-0 items-center gap-1 overflow-hidden rounded-sm border px-2 {board.processor ===
        processor.id
          ? 'border-ink bg-chosen'
          : 'bg-panel'} {processor.on ? '' : 'text-third line-through'}"
        onclick={(event) => choose(event, processor)}
        aria-label="{name(processor)} of {row.name}{processor.on ? '' : ', off'}"
      >
        <span
          class="bg-look absolute bottom-0 left-0 h-[3px]"
          style:width="{Math.min(100, (reduction(processor) / 24) * 100)}%"
        ></span>
        {#if picture(processor)}
          <svg width="34" height="14" aria-hidden="true" class="shrink-0">
            <path d={picture(processor)} fill="none" stroke="currentColor" stroke-width="1.3" />
          </svg>
        {/if}
        {name(processor)}
        {#if processor.key}<span class="text-second" title="has a key">◦ key</span>{/if}
      </button>
    {:else}
      <span class="text-third">no processors</span>
    {/each}
  </div>
{:else}
  <p class="text-second flex items-center pl-2">with {row.shares.join(', ')}</p>
{/if}
