<!-- What differs from the snapshot that is held against now, of the chosen row or of all; each taken over by itself. -->
<script lang="ts">
  import type { DifferenceKind } from '$lib/api/types';
  import { desktop } from '$stages/desktop';
  import { counted } from '$lib/ui/counted';
  import Picker from '$lib/ui/Picker.svelte';
  import { KINDS, shown } from './words';

  const { session, board, versions } = desktop();
  let kind = $state<DifferenceKind | 'all'>('all');
  let everything = $state(false);
  const row = $derived(board.current);
  const here = $derived(new Set(board.rows.map((r) => r.strip.id)));
  const listed = $derived(
    shown(versions.differences?.list ?? [], everything ? undefined : row?.strip.id, kind, here),
  );
</script>

{#if versions.other}
  <div class="mb-1 flex items-center gap-3">
    <h2 class="font-semibold">{everything ? 'All rows' : (row?.name ?? '')}</h2>
    <Picker label="Kind of difference" value={kind} options={KINDS} onpick={(to) => (kind = to)} />
    <button class="underline" aria-pressed={everything} onclick={() => (everything = !everything)}
      >{everything ? 'The chosen row alone' : 'Of all rows'}</button
    >
    <span class="text-second" data-testid="count"
      >{versions.differences ? `${counted(versions.differences.list.length, 'difference')} in all` : ''}</span
    >
    <span class="flex-1"></span>
    <button
      class="border-ink hover:bg-chosen rounded-md border px-2 py-[2px] whitespace-nowrap disabled:opacity-50"
      title="All of it, in one step that can be undone; a snapshot of now is taken before"
      disabled={versions.differences?.list.length === 0}
      onclick={() => void versions.goBack()}>Go back to it</button
    >
  </div>
  {#if versions.problem}<p role="alert" class="text-wrong">{versions.problem}</p>{/if}
  <ul aria-label="Differences">
    {#each listed as difference (difference.key)}
      <li class="border-line flex items-center gap-3 border-t py-[2px]">
        {#if everything}
          <span class="w-28 shrink-0 truncate"
            >{difference.strip === null
              ? 'The song'
              : here.has(difference.strip)
                ? session.nameOf(difference.strip)
                : 'Not here now'}</span
          >
        {/if}
        <span class="min-w-0 flex-1">{difference.now || '–'}</span>
        <span class="text-second min-w-0 flex-1">{difference.then || '–'}</span>
        <button
          class="border-line hover:bg-chosen shrink-0 rounded-sm border px-2"
          aria-label="Take it: {difference.then}"
          title={difference.also.length > 0
            ? `Changes ${difference.also.map((id) => session.nameOf(id)).join(', ')} too`
            : undefined}
          onclick={() => void versions.takeOver(difference)}>Take it</button
        >
      </li>
    {:else}
      <li class="text-second">
        {versions.differences?.list.length === 0
          ? 'Both are the same.'
          : 'Nothing of that kind differs here.'}
      </li>
    {/each}
  </ul>
{:else}
  <p class="text-second max-w-md">
    Hold a snapshot against now to see, row by row, what differs, and to take single differences back.
  </p>
{/if}
