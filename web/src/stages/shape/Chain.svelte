<!-- The chain of a row, in order: each processor with its picture and what it takes away. Dragged within the row it is
     moved; dragged to another row it is copied there. -->
<script lang="ts">
  import type { Processor } from '$lib/api/types';
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { moveProcessor } from './order';
  import { outline } from './pictures';

  let { row }: { row: Row } = $props();
  const { session, player, board } = desktop();
  const name = (p: Processor) => session.desk.nameOf(p);
  const reduction = $derived.by(() => {
    void player.meters.tick;
    return (p: Processor) => player.meters.processor(p.id).reduction;
  });
  const picture = (p: Processor) => outline(session.desk, p, 34, 14);
  const held = $derived(board.heldProcessor);
  /** Dropped on a processor it takes its place; dropped behind them it goes to the end. */
  function drop(event: DragEvent, at: number) {
    event.preventDefault();
    event.stopPropagation();
    if (!held) return;
    if (held.strip === row.strip.id)
      moveProcessor(session, board, held.strip, held.processor, Math.min(at, row.strip.chain.length - 1));
    else
      session.apply({
        kind: 'copy_chain',
        from: held.strip,
        processors: [held.processor],
        to: [row.strip.id],
        replace: false,
      });
    board.heldProcessor = undefined;
  }
  const over = (event: DragEvent) => held && event.preventDefault();
  const choose = (event: MouseEvent, p: Processor) => {
    event.stopPropagation();
    board.selected = [row.key];
    board.processor = p.id;
  };
</script>

{#if row.leads}
  <div
    class="flex min-w-0 flex-1 items-center gap-1.5 overflow-x-auto pl-2 {held && held.strip !== row.strip.id
      ? 'outline-line outline-1 -outline-offset-1 outline-dashed'
      : ''}"
    role="group"
    aria-label="Chain of {row.name}"
    ondragover={over}
    ondrop={(event) => drop(event, row.strip.chain.length - 1)}
  >
    {#each row.strip.chain as processor, at (processor.id)}
      <button
        draggable="true"
        ondragstart={() => (board.heldProcessor = { strip: row.strip.id, processor: processor.id })}
        ondragend={() => (board.heldProcessor = undefined)}
        ondragover={over}
        ondrop={(event) => drop(event, at)}
        title="Drag to another place, or to another row to copy it there"
        class="border-line relative flex h-[22px] shrink-0 items-center gap-1 overflow-hidden rounded-sm border px-2 {board.processor ===
        processor.id
          ? 'border-ink bg-chosen'
          : 'bg-panel'} {processor.on ? '' : 'text-second line-through'}"
        onclick={(event) => choose(event, processor)}
        aria-label="{name(processor)} of {row.name}{processor.on ? '' : ', off'}{processor.key
          ? ', with a key'
          : ''}"
      >
        <span
          class="bg-look absolute bottom-0 left-0 h-[3px]"
          style:width="{Math.min(100, (reduction(processor) / 24) * 100)}%"
        ></span>
        <svg width="34" height="14" aria-hidden="true" class="shrink-0">
          <path d={picture(processor)} fill="none" stroke="currentColor" stroke-width="1.3" />
        </svg>
        {name(processor)}
        {#if processor.key}<span class="text-second before:content-['◦_key']" title="has a key"></span>{/if}
      </button>
    {:else}
      <span class="text-second">no processors</span>
    {/each}
  </div>
{:else}
  <p class="text-second flex items-center pl-2">with {row.shares.join(', ')}</p>
{/if}
