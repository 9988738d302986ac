<!-- Where a row goes, changed in place. -->
<script lang="ts">
  import type { Row } from '$lib/state/rows';
  import { desktop } from '$lib/state/context';
  import Picker from '$lib/ui/Picker.svelte';

  let { row }: { row: Row } = $props();
  const { session } = desktop();
  const options = $derived([
    ...session.doc.strips
      .filter((s) => (s.kind === 'bus' || s.kind === 'main') && s.id !== row.strip.id)
      .map((s) => ({ value: s.id, text: s.name })),
    { value: -1, text: 'Nothing' },
  ]);
</script>

<div class="flex w-[130px] shrink-0 items-center pl-2">
  {#if row.strip.kind === 'trigger'}
    <span class="text-second pl-1" title="Never heard; it only feeds keys">trigger</span>
  {:else if row.kind !== 'main'}
    <Picker
      label="{row.name} goes to"
      value={row.strip.output ?? -1}
      {options}
      class="w-[112px]"
      onpick={(to) =>
        session.apply({ kind: 'set_output', strips: [row.strip.id], output: to < 0 ? null : to })}
    />
  {/if}
</div>
