<!-- What a row sends to each return; of a return, what it does and where it goes. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { NEW_COLUMN, SEND_COLUMN } from './columns';
  import SendCell from './SendCell.svelte';

  let { row }: { row: Row } = $props();
  const { session, paths } = desktop();
  const chain = $derived(
    row.strip.chain.map((p) => session.desk.nameOf(p) + (p.on ? '' : ' (off)')).join(' · '),
  );
</script>

{#if !row.leads}
  <p class="text-second flex items-center pl-2">with {row.shares.join(', ')}</p>
{:else if row.strip.kind === 'trigger'}
  <p class="text-second flex items-center pl-2">never heard; feeds keys</p>
{:else if row.kind === 'main'}
  <p class="text-second flex min-w-0 items-center gap-6 pl-2">
    <span class="truncate">{chain || 'no processor'}</span>
  </p>
{:else}
  <div class="flex min-w-0 flex-1 items-stretch">
    {#each paths.returns as id (id)}
      <div class="{SEND_COLUMN} @container flex min-w-0 items-center px-1">
        {#if id === row.strip.id}
          <span
            class="text-second truncate px-1"
            title="{chain || 'no processor'}, to {session.nameOf(row.strip.output)}"
            >{chain || 'no processor'}</span
          >
        {:else}
          <SendCell {row} to={id} />
        {/if}
      </div>
    {/each}
    <span class="{NEW_COLUMN} text-second flex items-center truncate pl-2"
      >{row.kind === 'return' ? `to ${session.nameOf(row.strip.output)}` : ''}</span
    >
  </div>
{/if}
