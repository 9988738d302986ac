<!-- The routing of a row as values: a send to each return, what keys it, how late it is. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$stages/desktop';
  import { sourcesOfKey } from '$lib/state/duckers';
  import SendFields from './SendFields.svelte';

  let { row, latency }: { row: Row; latency: Map<number, number> } = $props();
  const { session } = desktop();
  const returns = $derived(session.doc.strips.filter((s) => s.kind === 'return'));
  const sends = $derived(row.kind !== 'main' && row.strip.kind !== 'trigger');
  const keyed = $derived(
    row.strip.chain.flatMap((p) => (p.key ? sourcesOfKey(p.key).map((id) => session.nameOf(id)) : [])),
  );
</script>

<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
<div class="flex min-w-0 flex-1 items-center overflow-hidden" onclick={(event) => event.stopPropagation()}>
  {#each returns as target (target.id)}
    <div class="w-[104px] shrink-0">
      {#if sends && target.id !== row.strip.id}<SendFields strip={row.strip} to={target.id} short />{/if}
    </div>
  {/each}
  <span class="min-w-0 flex-1 truncate px-2" title={keyed.join(', ')}>{keyed.join(', ')}</span>
  <span class="figures text-second w-44 shrink-0 pr-[88px] text-right"
    >{(latency.get(row.strip.id) ?? 0) > 0 ? latency.get(row.strip.id) : ''}</span
  >
</div>
