<!-- What differs in a row, now and then; each difference is taken over by itself. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { NOW_COLUMN, TAKE_COLUMN, THEN_COLUMN } from './columns';

  let { row }: { row: Row } = $props();
  const { board, versions } = desktop();
  const all = $derived(versions.of(row.strip.id));
  const first = $derived(all[0]);
  const chosen = $derived(board.current?.strip.id === row.strip.id);
  const join = (of: 'now' | 'then') => all.map((d) => d[of]).join(' · ');
</script>

{#if !row.leads}
  <p class="text-second flex items-center pl-3">with {row.shares.join(', ')}</p>
{:else if !versions.other}
  <span></span>
{:else if !first}
  <p class="text-second flex items-center pl-3">the same</p>
{:else}
  <div class="flex min-w-0 flex-1 items-center {versions.fresh ? '' : 'opacity-60'}">
    <span class="{NOW_COLUMN} truncate" title={join('now')}>
      <span class="bg-good mr-2 inline-block h-[14px] w-[3px] align-middle"></span>{join('now')}
    </span>
    <span class="{THEN_COLUMN} text-second truncate" title={join('then')}>{join('then')}</span>
    <!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
    <span class="{TAKE_COLUMN} flex justify-end" onclick={(event) => event.stopPropagation()}>
      {#if all.length === 1}
        <button
          class="border-line hover:bg-chosen rounded-sm border px-2"
          aria-label="Take it: {row.name}, {first.then}"
          title="Takes over {first.then}{first.also.length > 0
            ? `; ${first.also.length} more rows change with it`
            : ''}"
          onclick={() => void versions.takeOver(first)}>Take it</button
        >
      {:else}
        <button
          class="text-second px-1 underline {chosen ? 'font-semibold' : ''}"
          aria-label="{all.length} below: what differs in {row.name}"
          onclick={() => (board.selected = [row.key])}>{all.length} below</button
        >
      {/if}
    </span>
  </div>
{/if}
