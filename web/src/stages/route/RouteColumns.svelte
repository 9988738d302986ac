<script lang="ts">
  import { desktop } from '$stages/desktop';

  const { board } = desktop();
  const returns = $derived(board.doc.strips.filter((s) => s.kind === 'return'));
</script>

<span class="w-[130px] pl-2">Goes to</span>
{#if board.routeTable}
  {#each returns as target (target.id)}
    <span class="w-[104px] shrink-0 truncate" title="Sends to {target.name}">to {target.name}</span>
  {/each}
  <span class="flex-1 px-2">Keyed by</span>
  <span class="w-24 pr-2 text-right">Late, samples</span>
{:else}
  <span class="flex-1 pl-2">Outputs broad, sends thin, keys dotted; an end can be dragged</span>
{/if}
<button
  class="hover:bg-chosen mr-3 rounded-sm px-1 whitespace-nowrap underline"
  onclick={() => (board.routeTable = !board.routeTable)}
  >{board.routeTable ? 'As ribbons' : 'As a table'}</button
>
